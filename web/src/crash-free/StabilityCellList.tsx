import { UnstyledButton } from '@mantine/core';
import { wordField } from '@rough-ember/core/fields/fields';
import type { SessionField } from '@rough-ember/core/session-index/person-day';
import { verdictWords, wordRange, wordThousandth } from '@rough-ember/core/stability/comparison-words';
import { badRate, badSessions, enoughSessions } from '@rough-ember/core/stability/figures';
import { type CellOrder, cellsOf, type MatrixCell, sortCells } from '@rough-ember/core/stability/matrix-cells';
import { type SyntheticEvent, useState } from 'react';
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
          {cells.slice(0, shownLines).map((cell) => (
            <CellLine
              key={JSON.stringify([cell.down, cell.across])}
              cell={cell}
              badEnds={badEnds}
              isChosen={chosen?.down === cell.down && chosen.across === cell.across}
              onChoose={onChoose}
              onRest={onRest}
            />
          ))}
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

function CellLine({
  cell,
  badEnds,
  isChosen,
  onChoose,
  onRest,
}: Pick<CellsProps, 'badEnds' | 'onChoose' | 'onRest'> & { readonly cell: MatrixCell; readonly isChosen: boolean }) {
  const { counts, verdict, down, across } = cell;
  const rate = badRate(counts, badEnds);
  const rest = (event: SyntheticEvent<HTMLElement>) => onRest({ cell, element: event.currentTarget });
  const leave = () => onRest(null);
  return (
    <tr data-chosen={isChosen}>
      <th scope="row">
        {cell.isRest ? (
          <Cut text={wordValue(down)} />
        ) : (
          <UnstyledButton
            className={styles.open}
            onClick={() => onChoose({ down, across })}
            onFocus={rest}
            onMouseEnter={rest}
            onBlur={leave}
            onMouseLeave={leave}
          >
            <Cut text={wordValue(down)} />
          </UnstyledButton>
        )}
      </th>
      <td className={styles.left}>
        <Cut text={wordValue(across)} />
      </td>
      <td>{wordNumber(counts.sessions)}</td>
      <td>{wordNumber(badSessions(counts, badEnds).hits)}</td>
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
}
