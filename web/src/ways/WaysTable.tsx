import type { Way } from '@rough-ember/core/sequences/ways';
import { wordRange, wordThousandth } from '@rough-ember/core/stability/comparison-words';
import type { Estimate } from '@rough-ember/core/stability/share';
import type { AppWays } from '@rough-ember/server/sequences/load-ways';
import { FigureTable } from '../crash-free/FigureTable';
import { endWordsPlural } from '../crash-free/Headline';
import { verdictMarks } from '../crash-free/StabilityMatrixTable';
import { wordNumber, wordShare } from '../words/numbers';
import styles from './Ways.module.css';

const arrow = ' › ';
export const wordWay = ({ screens }: Pick<Way, 'screens'>): string => screens.join(arrow);

const perThousand = ({ value, low, high }: Estimate): Estimate => ({ value: 1_000 * value, low: 1_000 * low, high: 1_000 * high });
const rank = ({ verdict }: Way): number => (verdict === 'worse' ? 1 : 0);

/** Through which screens it comes to a bad end, those first that end worse than other ways to the same screen. */
export function WaysTable({ answer, chosen, onChoose }: { answer: AppWays; chosen: string | null; onChoose: (way: Way) => void }) {
  const worseFirst = 'of 1,000 that go so';
  return (
    <FigureTable<Way>
      label="screens"
      nameOf={wordWay}
      showName={(one) => <WayName way={one} />}
      lines={answer.ways}
      first={worseFirst}
      chosen={chosen}
      onChoose={(name) => {
        const way = answer.ways.find((one) => wordWay(one) === name);
        if (way) onChoose(way);
      }}
      columns={[
        {
          name: `${endWordsPlural(answer.badEnds)} looked at`,
          weigh: (one) => one.looked,
          show: (one) => (
            <>
              {wordNumber(one.looked)} <small>of {wordNumber(one.people)} people</small>
            </>
          ),
        },
        {
          name: worseFirst,
          weigh: (one) => 1_000 * rank(one) + one.risk.low,
          show: (one) => (
            <>
              <span aria-hidden="true">{verdictMarks[one.verdict]}</span> <b>{wordThousandth(1_000 * one.risk.value)}</b>{' '}
              <small>{wordRange(perThousand(one.risk))}</small>
            </>
          ),
        },
        {
          name: 'by other ways',
          weigh: (one) => one.riskElsewhere.value || 0,
          show: (one) => <Elsewhere way={one} />,
        },
        { name: 'of the sessions with one', weigh: (one) => one.shareOfBad, show: (one) => <Bar share={one.shareOfBad} /> },
        { name: 'of the others', weigh: (one) => one.shareOfGood, show: (one) => <Bar share={one.shareOfGood} isQuiet /> },
      ]}
    />
  );
}

function WayName({ way: { screens } }: { way: Way }) {
  return (
    <span className={styles.way} title={wordWay({ screens })}>
      {screens.slice(0, -1).map((screen, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a screen may come twice
        <span key={at}>
          {screen}
          <i aria-hidden="true">{arrow}</i>
        </span>
      ))}
      <b>{screens.at(-1)}</b>
    </span>
  );
}

/** Of a single screen there are no other ways to it: the sessions without it stand beside. */
function Elsewhere({ way: { screens, riskElsewhere } }: { way: Way }) {
  if (!Number.isFinite(riskElsewhere.value)) return '–';
  return (
    <>
      {wordThousandth(1_000 * riskElsewhere.value)} {screens.length === 1 && <small>without it</small>}
    </>
  );
}

function Bar({ share, isQuiet = false }: { share: number; isQuiet?: boolean }) {
  return (
    <span className={styles.bar}>
      <i data-quiet={isQuiet} style={{ width: `${Math.round(60 * Math.min(1, share))}px` }} aria-hidden="true" />
      {wordShare(share)}
    </span>
  );
}
