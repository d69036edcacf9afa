import { wordRolloutStep } from '@rough-ember/core/rollouts/rollouts';
import { wordFree, wordRange, wordThousandth } from '@rough-ember/core/stability/comparison-words';
import { stabilityFigures } from '@rough-ember/core/stability/figures';
import type { VersionItem } from '@rough-ember/server/versions/load-versions';
import { emberLevelOfAll } from '../desk/ember-level';
import { wordCount, wordNumber, wordShare } from '../words/numbers';
import styles from './Versions.module.css';
import { VersionVerdict } from './VersionVerdict';

/** A version in the list: how far it is out, how it does, and what it changed. */
export function VersionRow({ item, selected, onSelect }: { item: VersionItem; selected: boolean; onSelect: () => void }) {
  const { version, counts, rollout, comparison, began, ended, returned, missing, adoption } = item;
  const figures = stabilityFigures(counts);
  const level = counts.sessions === 0 ? 'none' : figures.few ? 'few' : emberLevelOfAll(figures.crashes.value);
  const changed = [
    ...(began.length > 0 ? [`${wordCount(began.length, 'case', 'cases')} began`] : []),
    ...(returned.length > 0 ? [`${wordNumber(returned.length)} came back`] : []),
    ...(ended > 0 ? [`${wordNumber(ended)} seen no later`] : []),
    ...(missing.length > 0 ? [`${wordCount(missing.length, 'symbol file', 'symbol files')} missing`] : []),
  ];
  return (
    <button type="button" className={styles.row} aria-pressed={selected} onClick={onSelect}>
      <span className={styles.name}>
        <i className={styles.dot} data-level={level} aria-hidden="true" />
        <b>{version}</b> <span>{wordStanding(rollout, item)}</span>
      </span>
      <Adoption shares={adoption} />
      <span className={styles.figures}>
        {counts.sessions === 0 ? (
          'no session in these 30 days'
        ) : (
          <>
            <b>{figures.few ? 'too few' : wordFree(figures.crashFreeSessions.value)}</b> {wordThousandth(figures.crashes.value)} for 1,000 (
            {wordRange(figures.crashes)}) · {wordCount(counts.sessions, 'session', 'sessions')}, {wordShare(item.shareOfSessions)}
          </>
        )}
      </span>
      <span className={styles.changed}>
        {comparison && counts.sessions > 0 && <VersionVerdict comparison={comparison} />}
        {comparison && counts.sessions > 0 && changed.length > 0 && ' · '}
        {changed.join(' · ')}
      </span>
    </button>
  );
}

function wordStanding({ percent, halted }: VersionItem['rollout'], { steps }: VersionItem): string {
  const last = steps.at(-1);
  if (!last) return 'no rollout recorded';
  if (halted) return wordRolloutStep({ action: 'halt', percent });
  return percent === 100 ? 'out to everybody' : `out ${wordRolloutStep({ action: 'step', percent })}`;
}

/** Its part of each day's people, as a filled line. */
function Adoption({ shares }: { shares: readonly number[] }) {
  const width = 120;
  const height = 24;
  const points = shares.map(
    (share, at) => `${((at / Math.max(1, shares.length - 1)) * width).toFixed(1)},${(height - share * (height - 2)).toFixed(1)}`,
  );
  const now = shares.at(-1) ?? 0;
  return (
    <svg
      className={styles.adoption}
      viewBox={`0 0 ${width} ${height}`}
      role="img"
      aria-label={`Share of people over 30 days, ${wordShare(now)} today`}
    >
      <polygon points={`0,${height} ${points.join(' ')} ${width},${height}`} />
      <polyline points={points.join(' ')} />
    </svg>
  );
}
