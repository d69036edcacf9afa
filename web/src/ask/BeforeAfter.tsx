import type { Answer } from '@rough-ember/core/ask/answer';
import { nameOfGroup, wordValue } from '@rough-ember/core/ask/answer-words';
import type { Question } from '@rough-ember/core/ask/question';
import shared from './Ask.module.css';
import styles from './BeforeAfter.module.css';
import { GroupMenu } from './GroupMenu';
import { largestOf } from './series';

const mostLines = 24;

/** Each value in the window of the scope and in the one before it, on one scale: where it was, and where it went. */
export function BeforeAfter({ answer, measure }: { answer: Answer; measure: Question['measure'] }) {
  const groups = answer.splits.length === 0 ? [{ places: [], sum: answer.total, course: null, before: answer.before }] : answer.groups;
  const shown = groups.slice(0, mostLines);
  if (answer.before === null) return <p className={shared.soft}>All time has no window before it. Choose a window of days in the scope.</p>;
  const figures = shown.flatMap(({ sum, before }) => [sum, before]);
  const values = figures.flatMap((figure) => (figure?.value === null || figure === null ? [] : [figure.value]));
  const largest = largestOf(figures);
  // A share near 100 is told apart by what is missing to it.
  const least = measure.kind === 'crash-free' ? Math.min(...values, 100) : 0;
  const at = (value: number) => (largest === least ? 50 : (100 * (value - least)) / (largest - least));
  return (
    <ul className={styles.moves}>
      {shown.map((group) => {
        const [was, is] = [group.before?.value ?? null, group.sum.value];
        return (
          <li key={group.places.join()}>
            <GroupMenu answer={answer} group={group}>
              {nameOfGroup(answer, group)}
            </GroupMenu>
            <span className={styles.track} aria-hidden="true">
              {was !== null && is !== null && (
                <i className={styles.move} style={{ left: `${Math.min(at(was), at(is))}%`, width: `${Math.abs(at(is) - at(was))}%` }} />
              )}
              {was !== null && <i className={styles.was} style={{ left: `${at(was)}%` }} />}
              {is !== null && <i className={styles.is} style={{ left: `${at(is)}%` }} />}
            </span>
            <span className={styles.moved}>
              {wordValue(measure, was)} → <b>{wordValue(measure, is)}</b>
            </span>
          </li>
        );
      })}
      {groups.length > shown.length && <li className={shared.soft}>{groups.length - shown.length} more are in the table</li>}
    </ul>
  );
}
