import { UnstyledButton } from '@mantine/core';
import { wordField } from '@rough-ember/core/fields/fields';
import type { SessionField } from '@rough-ember/core/session-index/person-day';
import { verdictWords, wordRange, wordThousandth } from '@rough-ember/core/stability/comparison-words';
import { badRate, badSessions, enoughSessions } from '@rough-ember/core/stability/figures';
import { type CellOrder, cellsOf, sortCells } from '@rough-ember/core/stability/matrix-cells';
import { useState } from 'react';
import { Cut } from '../shell/Cut';
import { Wide } from '../shell/Wide';
import { wordNumber } from '../words/numbers';
import styles from './CrashFree.module.css';
import { type CellsProps, SortButton, verdictMarks, wordValue } from './StabilityMatrixTable';

/** More lines are not read; the file has them all. */
const shownLines = 200;

/** The cells of the matrix as lines that can be ordered, the same ones that the file has. */
export function StabilityCellList({
  matrix,
  badEnds,
  chosen,
  onChoose,
  onRest,
  fields: [down, across],
}: CellsProps & { readonly fields: readonly [SessionField, SessionField] }) {
  const [order, setOrder] = useState<CellOrder>('rate');
  const cells = sortCells(cellsOf(matrix), order, badEnds, matrix);
  const columns: readonly (readonly [CellOrder, string])[] = [
    ['down', wordField(down.field, down.key || null)],
    ['across', wordField(across.field, across.key || null)],
    ['sessions', 'sessions'],
    ['bad', 'ended badly'],
    ['rate', 'for 1,000'],
    ['persons', 'people'],
    ['persons-crashed', 'people with a crash'],
  ];
  return (
    <Wide>
      <table className={styles.versions}>
        <thead>
          <tr>
            {columns.map(([by, label]) => (
              <th
                key={by}
                scope="col"
                className={by === 'across' ? styles.left : undefined}
                aria-sort={order === by ? (by === 'down' || by === 'across' ? 'ascending' : 'descending') : undefined}
              >
                <SortButton label={label} isSorted={order === by} onSort={() => setOrder(by)} />
              </th>
            ))}
            <th scope="col">against the rest</th>
          </tr>
        </thead>
        <tbody>
          {cells.slice(0, shownLines).map((cell) => {
            const { counts, verdict } = cell;
            const bad = badSessions(counts, badEnds);
            const rate = badRate(counts, badEnds);
            const choose = () => onChoose({ down: cell.down, across: cell.across });
            return (
              <tr key={JSON.stringify([cell.down, cell.across])} data-chosen={chosen?.down === cell.down && chosen.across === cell.across}>
                <th scope="row">
                  {cell.isRest ? (
                    <Cut text={wordValue(cell.down)} />
                  ) : (
                    <UnstyledButton
                      className={styles.open}
                      onClick={choose}
                      onFocus={(event) => onRest({ cell, element: event.currentTarget })}
                      onMouseEnter={(event) => onRest({ cell, element: event.currentTarget })}
                      onBlur={() => onRest(null)}
                      onMouseLeave={() => onRest(null)}
                    >
                      <Cut text={wordValue(cell.down)} />
                    </UnstyledButton>
                  )}
                </th>
                <td className={styles.left}>
                  <Cut text={wordValue(cell.across)} />
                </td>
                <td>{wordNumber(counts.sessions)}</td>
                <td>{wordNumber(bad.hits)}</td>
                <td>
                  <b>{counts.sessions < enoughSessions ? `${wordThousandth(rate.value)} ?` : wordThousandth(rate.value)}</b>{' '}
                  <small>{wordRange(rate)}</small>
                </td>
                <td>{wordNumber(counts.persons)}</td>
                <td>{wordNumber(counts.personsCrashed)}</td>
                <td data-verdict={verdict}>
                  {verdictMarks[verdict]} {verdictWords[verdict]}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      {cells.length > shownLines && (
        <p className={styles.faint}>
          {wordNumber(shownLines)} of {wordNumber(cells.length)} lines; the CSV file has them all.
        </p>
      )}
    </Wide>
  );
}
