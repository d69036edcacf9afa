import { describe, expect, it } from 'vitest';
import { otherValues } from '../session-index/axis.ts';
import type { SessionMatrix } from '../session-index/count-sessions.ts';
import { type Counts, noCounts } from '../session-index/tally.ts';
import { onlyCrashes } from './figures.ts';
import { cellsOf, sortCells } from './matrix-cells.ts';

const counted = (sessions: number, crashed: number): Counts => ({ ...noCounts, sessions, crashed, persons: sessions / 2 });

function matrixOf(rows: readonly string[], columns: readonly string[], cells: readonly Counts[]): SessionMatrix {
  const sum = (some: readonly Counts[]) =>
    counted(
      some.reduce((all, one) => all + one.sessions, 0),
      some.reduce((all, one) => all + one.crashed, 0),
    );
  return {
    sampling: 'everybody',
    rows,
    columns,
    cells,
    ofRows: rows.map((_, row) => sum(cells.slice(row * columns.length, (row + 1) * columns.length))),
    ofColumns: columns.map((_, column) => sum(cells.filter((_, at) => at % columns.length === column))),
    total: sum(cells),
    verdicts: cells.map(({ crashed }) => (crashed > 80 ? 'worse' : 'too-early')),
  };
}

describe('cells of a matrix', () => {
  it('leaves out those without a session, and keeps the verdict of each', () => {
    const cells = cellsOf(
      matrixOf(['Tarn Go 3', 'Brill 6a'], ['4.2.0', '4.3.0'], [counted(9_000, 9), counted(9_000, 90), noCounts, counted(9_000, 9)]),
    );
    expect(cells.map(({ down, across, verdict }) => [down, across, verdict])).toEqual([
      ['Tarn Go 3', '4.2.0', 'too-early'],
      ['Tarn Go 3', '4.3.0', 'worse'],
      ['Brill 6a', '4.3.0', 'too-early'],
    ]);
  });

  it('are ordered by number from the highest, and by values as the matrix has them', () => {
    const matrix = matrixOf(['a', otherValues], ['1.9', '1.10'], [counted(10, 5), counted(400, 4), counted(300, 30), counted(20, 0)]);
    const cells = cellsOf(matrix);
    const order = (by: Parameters<typeof sortCells>[1]) =>
      sortCells(cells, by, onlyCrashes, matrix).map(({ down, across }) => `${down} ${across}`);
    expect(order('sessions')).toEqual(['a 1.10', '… 1.9', '… 1.10', 'a 1.9']);
    // Half of ten sessions says less than a tenth of three hundred.
    expect(order('rate')).toEqual(['… 1.9', 'a 1.10', 'a 1.9', '… 1.10']);
    expect(order('across')).toEqual(['a 1.9', '… 1.9', 'a 1.10', '… 1.10']);
    expect(cells.filter((one) => one.isRest)).toHaveLength(2);
  });
});
