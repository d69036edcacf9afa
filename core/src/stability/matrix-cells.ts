import { otherValues } from '../session-index/axis.ts';
import type { SessionMatrix } from '../session-index/count-sessions.ts';
import { type Counts, noCounts } from '../session-index/tally.ts';
import type { Verdict } from './comparison.ts';
import { type BadEnds, badSessions, enoughSessions } from './figures.ts';

/** A cell of a matrix that has sessions. */
export interface MatrixCell {
  readonly down: string;
  readonly across: string;
  readonly counts: Counts;
  /** How it does against all other cells together. */
  readonly verdict: Verdict;
  /** It stands for values that are not named, so it cannot be looked into. */
  readonly isRest: boolean;
}

/** The cells of a matrix that have sessions, row by row. */
export function cellsOf({ rows, columns, cells, verdicts }: SessionMatrix): MatrixCell[] {
  return rows.flatMap((down, row) =>
    columns.flatMap((across, column) => {
      const counts = cells[row * columns.length + column] ?? noCounts;
      if (counts.sessions === 0) return [];
      const verdict = verdicts[row * columns.length + column] ?? 'too-early';
      return [{ down, across, counts, verdict, isRest: down === otherValues || across === otherValues }];
    }),
  );
}

/** What a table of cells can be ordered by. */
export const cellOrders = ['down', 'across', 'sessions', 'bad', 'rate', 'persons', 'persons-crashed'] as const;
export type CellOrder = (typeof cellOrders)[number];

const numberOf: Readonly<Record<Exclude<CellOrder, 'down' | 'across'>, (counts: Counts, badEnds: BadEnds) => number>> = {
  sessions: (counts) => counts.sessions,
  bad: (counts, badEnds) => badSessions(counts, badEnds).hits,
  rate: (counts, badEnds) => badSessions(counts, badEnds).hits / counts.sessions,
  persons: (counts) => counts.persons,
  'persons-crashed': (counts) => counts.personsCrashed,
};

/**
 * Cells in order: numbers from the highest, values in the order of the matrix, which is that of versions or of how common
 * they are. Rates of few sessions come after the others: one crash in three sessions is not the worst there is.
 */
export function sortCells(
  cells: readonly MatrixCell[],
  order: CellOrder,
  badEnds: BadEnds,
  { columns }: Pick<SessionMatrix, 'columns'>,
): MatrixCell[] {
  if (order === 'down') return [...cells];
  if (order === 'across') return [...cells].sort((a, b) => columns.indexOf(a.across) - columns.indexOf(b.across));
  const number = numberOf[order];
  const saysLittle = ({ counts }: MatrixCell) => Number(order === 'rate' && counts.sessions < enoughSessions);
  return [...cells].sort((a, b) => saysLittle(a) - saysLittle(b) || number(b.counts, badEnds) - number(a.counts, badEnds));
}
