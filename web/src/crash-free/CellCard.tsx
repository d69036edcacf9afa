import type { Scope } from '@rough-ember/core/scope/scope';
import type { SessionField } from '@rough-ember/core/session-index/person-day';
import type { BadEnds } from '@rough-ember/core/stability/figures';
import { addressOf } from '../client/api';
import { useAnswer } from '../client/use-answer';
import { search } from '../desk/desk-address';
import { hasValue, withCondition } from '../scope/scope-context';
import { wordNumber } from '../words/numbers';
import styles from './CrashFree.module.css';
import { type RestingCell, wordCell, wordValue } from './StabilityMatrixTable';

/** Whoever moves over the matrix asks for nothing. */
const restMs = 250;
const shownCases = 3;
const cardWidth = 330;

/** What a cell holds, beside it: its figures, and the cases with most people. */
export function CellCard({
  resting: { cell, element },
  appSlug,
  scope,
  fields: [down, across],
  badEnds,
}: {
  resting: RestingCell;
  appSlug: string;
  scope: Scope;
  fields: readonly [SessionField, SessionField];
  badEnds: BadEnds;
}) {
  const narrowed = [
    [down, cell.down],
    [across, cell.across],
  ].reduce((before, [field, value]) => {
    const { field: name, key } = field as SessionField;
    return value === '' ? before : withCondition(before, hasValue(name, key, value as string));
  }, scope);
  const isTold = cell.down !== '' && cell.across !== '';
  const { answer, stale } = useAnswer(
    isTold
      ? addressOf('GET /apps/{app}/cases', { app: appSlug }, search({ ...narrowed, kinds: ['crash'], cases: 'any' }, { order: 'people' }))
      : null,
    { waitMs: restMs },
  );
  const place = element.getBoundingClientRect();
  const left = Math.max(8, Math.min(place.left, window.innerWidth - cardWidth - 8));
  const isLow = place.bottom > window.innerHeight - 190;
  return (
    <div
      className={styles.card}
      role="status"
      style={{ left, width: cardWidth, ...(isLow ? { bottom: window.innerHeight - place.top + 6 } : { top: place.bottom + 6 }) }}
    >
      <b>
        {wordValue(cell.down)}, {wordValue(cell.across)}
      </b>
      <div>{wordCell(cell.counts, badEnds)}</div>
      {cell.verdict === 'worse' || cell.verdict === 'better' ? (
        <div>Surely {cell.verdict} than the rest: of twenty cells marked so, one is by chance.</div>
      ) : null}
      {isTold && (
        <ol aria-busy={stale}>
          {answer && !stale ? (
            answer.cases.slice(0, shownCases).map(({ ref, what, where, people }) => (
              <li key={ref}>
                {ref} {what} <code>{where}</code> <b>{wordNumber(people)}</b>
              </li>
            ))
          ) : (
            <li>looking for its cases …</li>
          )}
          {answer && !stale && answer.cases.length === 0 && <li>no case</li>}
        </ol>
      )}
    </div>
  );
}
