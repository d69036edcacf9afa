import { Menu, UnstyledButton } from '@mantine/core';
import { wordField } from '@rough-ember/core/fields/fields';
import { notToldValue, otherValues } from '@rough-ember/core/session-index/axis';
import type { SessionField } from '@rough-ember/core/session-index/person-day';
import { type Counts, noCounts } from '@rough-ember/core/session-index/tally';
import type { Verdict } from '@rough-ember/core/stability/comparison';
import { wordRange, wordThousandth } from '@rough-ember/core/stability/comparison-words';
import { type BadEnds, badRate, badSessions, enoughSessions } from '@rough-ember/core/stability/figures';
import { cellsOf, type MatrixCell } from '@rough-ember/core/stability/matrix-cells';
import type { StabilityMatrix } from '@rough-ember/server/stability/crash-free';
import { type SyntheticEvent, useState } from 'react';
import { emberLevelOfAll } from '../desk/ember-level';
import { Cut } from '../shell/Cut';
import { Wide } from '../shell/Wide';
import { wordCount, wordNumber } from '../words/numbers';
import styles from './CrashFree.module.css';

/** A cell of the matrix by its values. */
export interface ChosenCell {
  readonly down: string;
  readonly across: string;
}

export const wordValue = (value: string): string => (value === notToldValue ? 'not told' : value === otherValues ? 'all others' : value);

/** A cell that surely does worse or better than the rest says so by a shape beside its figure. */
export const verdictMarks: Readonly<Partial<Record<Verdict, string>>> = { worse: '▴', better: '▿' };

export interface CellsProps {
  readonly matrix: StabilityMatrix;
  readonly badEnds: BadEnds;
  readonly chosen: ChosenCell | null;
  readonly onChoose: (cell: ChosenCell) => void;
  /** Somebody rests on a cell, by pointer or keyboard; null when they leave it. */
  readonly onRest: (resting: RestingCell | null) => void;
}

export interface RestingCell {
  readonly cell: MatrixCell;
  readonly element: HTMLElement;
}

/** What the rows of the matrix are ordered by: their sessions, or the rate in a column. */
type RowOrder = { readonly by: 'sessions' | 'rate' } | { readonly by: 'column'; readonly column: number };

/** Crashes for 1,000 sessions by two fields, shaded; hollow where there are too few sessions to say much. */
export function StabilityMatrixTable({ matrix, badEnds, chosen, onChoose, onRest }: CellsProps) {
  const [order, setOrder] = useState<RowOrder>({ by: 'sessions' });
  const cells = new Map(cellsOf(matrix).map((cell) => [JSON.stringify([cell.down, cell.across]), cell]));
  const rate = (counts: Counts | undefined) => (counts && counts.sessions > 0 ? badSessions(counts, badEnds).hits / counts.sessions : -1);
  const weigh = (row: number): number =>
    order.by === 'sessions'
      ? (matrix.ofRows[row]?.sessions ?? 0)
      : rate(order.by === 'column' ? matrix.cells[row * matrix.columns.length + order.column] : matrix.ofRows[row]);
  const rows = matrix.rows
    .map((value, at) => ({ value, at, counts: matrix.ofRows[at] ?? noCounts }))
    .sort((a, b) => weigh(b.at) - weigh(a.at));
  return (
    <Wide>
      <table className={styles.matrix}>
        <MatrixHead columns={matrix.columns} order={order} onOrder={setOrder} />
        <tbody>
          {rows.map(({ value, counts }) => (
            <tr key={value}>
              <th scope="row">
                <Cut text={wordValue(value)} /> <small>{wordNumber(counts.sessions)}</small>
              </th>
              {matrix.columns.map((across) => (
                <td key={across}>
                  <Cell
                    cell={cells.get(JSON.stringify([value, across]))}
                    badEnds={badEnds}
                    isChosen={chosen?.down === value && chosen.across === across}
                    onChoose={() => onChoose({ down: value, across })}
                    onRest={onRest}
                  />
                </td>
              ))}
              <td>
                <WholeRow value={value} counts={counts} badEnds={badEnds} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </Wide>
  );
}

function MatrixHead({ columns, order, onOrder }: { columns: readonly string[]; order: RowOrder; onOrder: (order: RowOrder) => void }) {
  const sorted = (isSorted: boolean) => (isSorted ? ('descending' as const) : undefined);
  return (
    <thead>
      <tr>
        <th scope="col" aria-sort={sorted(order.by === 'sessions')}>
          <SortButton label="sessions" isSorted={order.by === 'sessions'} onSort={() => onOrder({ by: 'sessions' })} />
        </th>
        {columns.map((value, column) => {
          const isSorted = order.by === 'column' && order.column === column;
          return (
            <th key={value} scope="col" aria-sort={sorted(isSorted)}>
              <SortButton label={wordValue(value)} isSorted={isSorted} onSort={() => onOrder({ by: 'column', column })} />
            </th>
          );
        })}
        <th scope="col" aria-sort={sorted(order.by === 'rate')}>
          <SortButton label="all" isSorted={order.by === 'rate'} onSort={() => onOrder({ by: 'rate' })} />
        </th>
      </tr>
    </thead>
  );
}

/** The last cell of a row: its value, whatever is across. */
function WholeRow({ value, counts, badEnds }: { value: string; counts: Counts; badEnds: BadEnds }) {
  return (
    <span className={styles.cell} data-level={levelOf(counts, badEnds)} title={`${wordValue(value)}, all: ${wordCell(counts, badEnds)}`}>
      {wordRate(counts, badEnds)}
    </span>
  );
}

/** The head of a column that orders by it. */
export function SortButton({ label, isSorted, onSort }: { label: string; isSorted: boolean; onSort: () => void }) {
  const title = `Order by ${label}`;
  return (
    <UnstyledButton className={styles.sort} title={title} onClick={onSort}>
      <Cut text={label} width={150} title={title} />
      {isSorted && <span aria-hidden="true"> ↓</span>}
    </UnstyledButton>
  );
}

const levelOf = (counts: Counts, badEnds: BadEnds) =>
  counts.sessions < enoughSessions ? 'few' : emberLevelOfAll(badRate(counts, badEnds).value);

const wordRate = (counts: Counts, badEnds: BadEnds): string =>
  `${wordThousandth(badRate(counts, badEnds).value)}${counts.sessions < enoughSessions ? ' ?' : ''}`;

/** A cell in words: rate, interval, sessions and people. */
export const wordCell = (counts: Counts, badEnds: BadEnds): string => {
  const rate = badRate(counts, badEnds);
  const few = counts.sessions < enoughSessions ? ', too few to say much' : '';
  return `${wordThousandth(rate.value)} for 1,000 (${wordRange(rate)}), ${wordCount(counts.sessions, 'session', 'sessions')}, ${wordCount(counts.persons, 'person', 'people')}${few}`;
};

function Cell({
  cell,
  badEnds,
  isChosen,
  onChoose,
  onRest,
}: {
  cell: MatrixCell | undefined;
  badEnds: BadEnds;
  isChosen: boolean;
  onChoose: () => void;
  onRest: CellsProps['onRest'];
}) {
  if (!cell) return <span className={styles.noCell} />;
  const { counts, verdict } = cell;
  const name = `${wordValue(cell.down)}, ${wordValue(cell.across)}`;
  const words = `${name}: ${wordCell(counts, badEnds)}${verdictMarks[verdict] ? `, ${verdict} than the rest` : ''}`;
  const shown = (
    <>
      {wordRate(counts, badEnds)}
      {verdictMarks[verdict] && <span className={styles.mark}>{verdictMarks[verdict]}</span>}
    </>
  );
  if (cell.isRest)
    return (
      <span className={styles.cell} data-level={levelOf(counts, badEnds)} title={words}>
        {shown}
      </span>
    );
  const rest = (event: SyntheticEvent<HTMLElement>) => onRest({ cell, element: event.currentTarget });
  return (
    <button
      type="button"
      className={styles.cell}
      data-level={levelOf(counts, badEnds)}
      aria-label={words}
      aria-pressed={isChosen}
      onClick={onChoose}
      onMouseEnter={rest}
      onFocus={rest}
      onMouseLeave={() => onRest(null)}
      onBlur={() => onRest(null)}
    >
      {shown}
    </button>
  );
}

/** A word that is another field when it is clicked. */
export function FieldWord({
  value,
  fields,
  onChange,
}: {
  value: SessionField;
  fields: readonly SessionField[];
  onChange: (field: SessionField) => void;
}) {
  return (
    <Menu width={220} withInitialFocusPlaceholder={false}>
      <Menu.Target>
        <UnstyledButton className={styles.word}>{wordField(value.field, value.key || null)}</UnstyledButton>
      </Menu.Target>
      <Menu.Dropdown className={styles.long}>
        {fields.map((field) => (
          <Menu.Item key={`${field.field} ${field.key}`} onClick={() => onChange(field)}>
            {wordField(field.field, field.key || null)}
          </Menu.Item>
        ))}
      </Menu.Dropdown>
    </Menu>
  );
}

/** The cells of the matrix as lines of a file, with the names of both fields above. */
export function matrixLines(matrix: StabilityMatrix, badEnds: BadEnds, names: readonly [string, string]): (string | number)[][] {
  const lines = matrix.rows.flatMap((down, row) =>
    matrix.columns.map((across, column) => {
      const counts = matrix.cells[row * matrix.columns.length + column] ?? noCounts;
      return [
        wordValue(down),
        wordValue(across),
        counts.sessions,
        badSessions(counts, badEnds).hits,
        counts.persons,
        counts.personsCrashed,
      ];
    }),
  );
  return [[...names, 'sessions', 'bad sessions', 'persons', 'persons with a crash'], ...lines];
}
