import { wordCount } from '../words/numbers';
import styles from './Strip.module.css';

/** Shade of a cell: 0 none, then up the ember ramp by the share of the strip's busiest version. */
export function emberLevel(reports: number, most: number): 0 | 1 | 2 | 3 | 4 {
  if (reports === 0 || most === 0) return 0;
  const share = reports / most;
  return share <= 0.1 ? 1 : share <= 0.35 ? 2 : share <= 0.7 ? 3 : 4;
}

/** The version strip: a cell for each version, oldest first, the shade telling how many reports it sent. */
export function Strip({
  versions,
  reports,
  labelled = false,
}: {
  versions: readonly string[];
  reports: readonly number[];
  labelled?: boolean;
}) {
  const most = Math.max(0, ...reports);
  const words = versions.map((version, index) => `${version}: ${wordCount(reports[index] ?? 0, 'report', 'reports')}`);
  return (
    <span className={styles.strip} role="img" aria-label={`Reports by version. ${words.join(', ')}`} data-labelled={labelled}>
      {versions.map((version, index) => (
        <span key={version} className={styles.cell} title={words[index]}>
          <i className={styles.shade} data-level={emberLevel(reports[index] ?? 0, most)}>
            {labelled && (reports[index] ?? 0) > 0 ? reports[index] : ''}
          </i>
          {labelled && <small>{version}</small>}
        </span>
      ))}
    </span>
  );
}
