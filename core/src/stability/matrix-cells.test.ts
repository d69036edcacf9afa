import { describe, expect, it } from 'vitest';
import { otherValues, type SessionMatrix } from '../session-index/count-sessions.ts';
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
  };
}

describe('cells of a matrix', () => {
  it('says which cell is surely worse than the rest, and leaves out those without a session', () => {
    const matrix = matrixOf(
      ['Tarn Go 3', 'Brill 6a'],
      ['4.2.0', '4.3.0'],
      [counted(9_000, 9), counted(9_000, 90), noCounts, counted(9_000, 9)],
    );
    const cells = cellsOf(matrix, onlyCrashes);
    expect(cells.map(({ down, across, verdict }) => [down, across, verdict])).toEqual([
      ['Tarn Go 3', '4.2.0', 'better'],
      ['Tarn Go 3', '4.3.0', 'worse'],
      ['Brill 6a', '4.3.0', 'better'],
    ]);
  });

  it('asks for more evidence, the more cells are looked at', () => {
    const lone = matrixOf(['a', 'b'], ['1'], [counted(1_000, 14), counted(20_000, 140)]);
    expect(cellsOf(lone, onlyCrashes)[0]?.verdict).toBe('worse');
    const among = matrixOf(
      ['a', ...Array.from({ length: 40 }, (_, at) => `b${at}`)],
      ['1'],
      [counted(1_000, 14), ...Array.from({ length: 40 }, (_, at) => counted(500, at % 2 === 0 ? 3 : 4))],
    );
    expect(cellsOf(among, onlyCrashes)[0]?.verdict).toBe('too-early');
  });

  it('says nothing of a cell that is all there is', () => {
    const [only] = cellsOf(matrixOf(['a'], ['1'], [counted(1_000, 14)]), onlyCrashes);
    expect(only?.verdict).toBe('too-early');
  });

  it('are ordered by number from the highest, and by values as the matrix has them', () => {
    const matrix = matrixOf(['a', otherValues], ['1.9', '1.10'], [counted(10, 5), counted(400, 4), counted(300, 30), counted(20, 0)]);
    const cells = cellsOf(matrix, onlyCrashes);
    const order = (by: Parameters<typeof sortCells>[1]) =>
      sortCells(cells, by, onlyCrashes, matrix).map(({ down, across }) => `${down} ${across}`);
    expect(order('sessions')).toEqual(['a 1.10', '… 1.9', '… 1.10', 'a 1.9']);
    // Half of ten sessions says less than a tenth of three hundred.
    expect(order('rate')).toEqual(['… 1.9', 'a 1.10', 'a 1.9', '… 1.10']);
    expect(order('across')).toEqual(['a 1.9', '… 1.9', 'a 1.10', '… 1.10']);
    expect(cells.filter((one) => one.isRest)).toHaveLength(2);
  });
});
