import type { StripVersion } from '@rough-ember/server/desk/case-list';
import { wordCount } from '../words/numbers';
import { emberLevel } from './ember-level';
import styles from './Strip.module.css';

/** The version strip: a cell for each version, oldest first, shaded by how much of its trouble is this case. */
export function Strip({
  versions,
  reports,
  labelled = false,
}: {
  versions: readonly StripVersion[];
  reports: readonly number[];
  labelled?: boolean;
}) {
  const cells = versions.map(({ version, reports: ofVersion }, index) => {
    const count = reports[index] ?? 0;
    const share = count === 0 ? '' : `, ${Math.round((100 * count) / ofVersion)} % of what it sent`;
    return { version, count, level: emberLevel(count, ofVersion), words: `${version}: ${wordCount(count, 'report', 'reports')}${share}` };
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
