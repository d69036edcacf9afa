import type { FunnelStep } from '@rough-ember/core/sequences/funnel';
import { printStep, type Sequence } from '@rough-ember/core/sequences/sequence';
import type { PathEnd } from '@rough-ember/core/sequences/session-path';
import type { Estimate } from '@rough-ember/core/stability/share';
import { wordDuration } from '../sessions/session-words';
import { Wide } from '../shell/Wide';
import { wordNumber, wordShare } from '../words/numbers';
import styles from './Ways.module.css';

const lostWords: Readonly<Record<PathEnd, string>> = { crashed: 'crash', hung: 'hang', killed: 'kill', ended: 'go elsewhere or end' };
const badEnds = ['crashed', 'hung', 'killed'] as const;

const wordInterval = ({ low, high }: Estimate): string => `${wordShare(low)} to ${wordShare(high)}`;

/** Who comes to each step of a sequence, and what becomes of those that do not come to the next. */
export function FunnelTable({ sequence, funnel }: { sequence: Sequence; funnel: readonly FunnelStep[] }) {
  return (
    <Wide>
      <table className={styles.funnel}>
        <thead>
          <tr>
            <th scope="col">step</th>
            <th scope="col">sessions</th>
            <th scope="col">of all</th>
            <th scope="col">of the step before</th>
            <th scope="col">half within</th>
            <th scope="col">lost after it</th>
            <th scope="col">did next instead</th>
          </tr>
        </thead>
        <tbody>
          {funnel.map((step, at) => {
            const pattern = sequence[at];
            return (
              // biome-ignore lint/suspicious/noArrayIndexKey: steps have no identity but their place
              <tr key={at}>
                <th scope="row">
                  {at + 1} {pattern && printStep(pattern)}
                </th>
                <td>
                  ≈ {wordNumber(Math.round(step.sessions))} <small>{wordNumber(step.looked)} looked at</small>
                </td>
                <td>
                  <span className={styles.whole} title={wordInterval(step.ofAll)}>
                    <i style={{ width: `${100 * (step.ofAll.value || 0)}%` }} aria-hidden="true" />
                  </span>{' '}
                  {wordShare(step.ofAll.value || 0)} <small>{wordInterval(step.ofAll)}</small>
                </td>
                <td>{at === 0 ? '' : wordShare(step.ofBefore.value || 0)}</td>
                <td>{step.medianMs === null ? '' : wordDuration(step.medianMs)}</td>
                <td>{pattern?.kind !== 'crash' && <Lost step={step} isLast={at === funnel.length - 1} />}</td>
                <td className={styles.instead}>{step.instead.map((one) => `${one.step} (${wordNumber(one.looked)})`).join(', ')}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </Wide>
  );
}

/** How those ended that went no further; after the last step all did. */
function Lost({ step, isLast }: { step: FunnelStep; isLast: boolean }) {
  const bad = badEnds.filter((end) => step.lost[end].value > 0);
  const elsewhere = step.lost.ended.value || 0;
  return (
    <>
      {bad.map((end) => (
        <span key={end} title={wordInterval(step.lost[end])}>
          <b>
            {wordShare(step.lost[end].value)} {lostWords[end]}
          </b>
          ,{' '}
        </span>
      ))}
      {wordShare(elsewhere)} {isLast ? 'end well' : lostWords.ended}
    </>
  );
}
