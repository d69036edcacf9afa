import type { ScrubRules } from '@rough-ember/core/report/scrub';
import type { ScrubTrial } from '@rough-ember/server/privacy/try-scrub';
import { useTimes } from '../shell/use-times';
import { wordCount, wordNumber } from '../words/numbers';
import styles from './Private.module.css';
import { useAsked } from './use-asked';

/** What rules would take out of the app's own newest reports. */
export function ScrubTrialList({ appSlug, rules }: { appSlug: string; rules: ScrubRules }) {
  const { wordTime } = useTimes();
  const { answer: trial, problem } = useAsked('POST /apps/{app}/scrub-trial', appSlug, rules);
  return (
    <section>
      <h3>On the newest reports of this app</h3>
      <div role="status">{problem ? 'Once the rules can be read.' : trial ? wordTrial(trial) : 'Looking …'}</div>
      {problem === null && trial && trial.reports.length > 0 && (
        <ol className={styles.trial}>
          {trial.reports.map(({ reportId, occurredAt, differences }) => (
            <li key={reportId}>
              <a href={`/apps/${appSlug}/reports/${reportId}`}>{wordTime(occurredAt)}</a>
              {differences.map(({ where, before, after }) => (
                <div key={where} className={styles.difference}>
                  <span className={styles.faint}>{where}</span>
                  <del>{before}</del>
                  <ins>{after}</ins>
                </div>
              ))}
            </li>
          ))}
        </ol>
      )}
    </section>
  );
}

function wordTrial({ looked, changed, reports }: ScrubTrial): string {
  if (looked === 0) return 'There is no report yet to try them on.';
  if (changed === 0)
    return `In the newest ${wordCount(looked, 'report', 'reports')}, as they are stored, these rules find nothing more to take out.`;
  const shown = reports.length < changed ? `; the newest ${wordNumber(reports.length)}` : '';
  return `Of the newest ${wordCount(looked, 'report', 'reports')} they would change ${wordNumber(changed)}${shown}:`;
}
