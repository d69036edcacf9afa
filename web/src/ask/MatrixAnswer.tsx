import type { Answer } from '@rough-ember/core/ask/answer';
import { wordCounts, wordInterval, wordSplitValue, wordValue } from '@rough-ember/core/ask/answer-words';
import type { Question } from '@rough-ember/core/ask/question';
import { GroupMenu } from './GroupMenu';
import styles from './MatrixAnswer.module.css';
import { largestOf, levelOf } from './series';

/** Two fields against each other, each cell shaded by how much of the largest it is. */
export function MatrixAnswer({ answer, measure }: { answer: Answer; measure: Question['measure'] }) {
  const [down, across] = answer.splits as [Answer['splits'][number], Answer['splits'][number]];
  const inOrder = (at: number, split: Answer['splits'][number]) => {
    const seen = [...new Set(answer.groups.map(({ places }) => places[at] as number))];
    // Versions and steps stand in their order, everything else with the largest first.
    return split.field.endsWith('version') ? seen.sort((a, b) => a - b) : seen;
  };
  const rows = inOrder(0, down);
  const columns = inOrder(1, across);
  const cells = new Map(answer.groups.map((group) => [group.places.join(), group]));
  const isGood = measure.kind === 'crash-free';
  const shadeOf = (value: number | null) => (value === null ? null : isGood ? 100 - value : value);
  const largest = largestOf(answer.groups.map(({ sum }) => ({ ...sum, value: shadeOf(sum.value) })));
  return (
    <div className={styles.room}>
      <table className={styles.matrix}>
        <thead>
          <tr>
            <th scope="col" className={styles.corner}>
              {down.called} ↓ {across.called} →
            </th>
            {columns.map((place) => (
              <th key={place} scope="col">
                {wordSplitValue(across, across.values[place] as string)}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={row}>
              <th scope="row">{wordSplitValue(down, down.values[row] as string)}</th>
              {columns.map((column) => {
                const group = cells.get(`${row},${column}`);
                if (!group) return <td key={column} className={styles.noCell} />;
                const words = [wordInterval(measure, group.sum), wordCounts(measure, group.sum)].filter(Boolean).join('; ');
                return (
                  <td key={column} data-level={levelOf(shadeOf(group.sum.value), largest)} title={words}>
                    <GroupMenu answer={answer} group={group} className={styles.cellButton}>
                      {wordValue(measure, group.sum.value)}
                    </GroupMenu>
                  </td>
                );
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}
