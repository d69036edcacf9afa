import type { StripVersion } from '@rough-ember/server/desk/case-list';
import { wordCount, wordRate } from '../words/numbers';
import { emberLevel, emberLevelOfVisits } from './ember-level';
import styles from './Strip.module.css';

/** The version strip: a cell for each version, oldest first, shaded by how much of its trouble is this case. */
export function Strip({
  versions,
  reports,
  labelled = false,
  of = 'sessions',
}: {
  versions: readonly StripVersion[];
  reports: readonly number[];
  labelled?: boolean;
  /** What the version was used, in a word. */
  of?: 'sessions' | 'visits';
}) {
  const cells = versions.map((use, index) => {
    const { version, sessions } = use;
    const count = reports[index] ?? 0;
    const share =
      count === 0
        ? ''
        : sessions > 0
          ? `, ${wordRate((1_000 * count) / sessions)} for 1,000 of its ${of}`
          : `, ${Math.round((100 * count) / use.reports)} % of what it sent`;
    return {
      version,
      count,
      level: of === 'visits' ? emberLevelOfVisits(count, sessions) : emberLevel(count, use),
      words: `${version}: ${wordCount(count, 'report', 'reports')}${share}`,
    };
  });
  return (
    <span
      className={styles.strip}
      role="img"
      aria-label={`Reports by version. ${cells.map((cell) => cell.words).join('; ')}`}
      data-labelled={labelled}
    >
      {cells.map(({ version, count, level, words }) => (
        <span key={version} className={styles.cell} title={words}>
          <i className={styles.shade} data-level={level}>
            {labelled && count > 0 ? count : ''}
          </i>
          {labelled && <small>{version}</small>}
        </span>
      ))}
    </span>
  );
}
