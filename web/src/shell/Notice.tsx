import type { RequestProblem } from '../client/api';
import styles from './Notice.module.css';

/** A failure beside the thing that failed: what happened, and what to do. */
export function ProblemNotice({ problem }: { problem: RequestProblem | null }) {
  if (!problem) return null;
  return (
    <div className={styles.problem} role="alert">
      <b>{problem.message}</b> {problem.remedy}
    </div>
  );
}
