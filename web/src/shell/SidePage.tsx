import type { ReactNode } from 'react';
import type { RequestProblem } from '../client/api';
import { ProblemNotice } from './Notice';
import styles from './SidePage.module.css';

/** A page that answers in a sentence first, shows the matter below it, and what can be done about it at the side. */
export function SidePage(props: {
  sentence: ReactNode;
  problem: RequestProblem | null;
  side: ReactNode;
  sideLabel: string;
  children: ReactNode;
}) {
  return (
    <main>
      <div className={styles.sentence}>{props.sentence}</div>
      <ProblemNotice problem={props.problem} />
      <div className={styles.columns}>
        <div>{props.children}</div>
        <aside className={styles.side} aria-label={props.sideLabel}>
          {props.side}
        </aside>
      </div>
    </main>
  );
}
