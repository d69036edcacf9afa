import type { ReportKind } from '@rough-ember/core/report/report-kinds';
import { Value } from '../scope/Value';
import { addressOfCommonSteps } from '../ways/ways-address';
import { wordCount, wordShare } from '../words/numbers';
import styles from './Before.module.css';
import { useEvidence } from './use-evidence';

/** What most reports of the case have in common before they happened, in a sentence. */
export function CommonStepsLine({ appSlug, refName, kind }: { appSlug: string; refName: string; kind: ReportKind }) {
  const { answer } = useEvidence(appSlug, refName, 'steps');
  if (!answer || answer.steps.length === 0 || answer.looked < 3) return null;
  const { steps, reports, looked } = answer;
  const ways = addressOfCommonSteps(`/apps/${appSlug}`, steps, kind);
  return (
    <p className={styles.common}>
      In {wordShare(reports / looked)} of {looked < 200 ? wordCount(looked, 'report', 'reports') : 'the newest 200 reports'}, in this order:{' '}
      {steps.map((step, at) => (
        <span key={step}>
          {at > 0 && ' → '}
          <b>
            <Value field="trail" value={step} />
          </b>
        </span>
      ))}
      {ways !== null && (
        <>
          {' '}
          <a href={ways}>who else goes so</a>
        </>
      )}
    </p>
  );
}
