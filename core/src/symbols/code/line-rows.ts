import { GrowableColumn } from '../../bytes/growable-column.ts';
import { none } from './index-layout.ts';

/** Line rows of one image while they are collected: sequences in any order, rows ascending within each. */
export class LineRows {
  private readonly start = new GrowableColumn();
  private readonly file = new GrowableColumn();
  private readonly line = new GrowableColumn();
  private readonly column = new GrowableColumn();
  /** Sequence i holds rows from `firstRow[i]` and ends at `sequenceEnd[i]`. */
  private readonly firstRow = new GrowableColumn();
  private readonly sequenceEnd = new GrowableColumn();

  get length(): number {
    return this.start.length;
  }

  beginSequence(): void {
    this.firstRow.push(this.start.length);
  }

  /** A row of the open sequence; a second row at one address replaces the first, as nothing runs between them. */
  add(start: number, file: number, line: number, column: number): void {
    const last = this.start.length - 1;
    if (last >= this.firstRow.at(this.firstRow.length - 1)) {
      if (this.start.at(last) === start) {
        this.file.set(last, file);
        this.line.set(last, line);
        this.column.set(last, column);
        return;
      }
      if (this.line.at(last) === line && this.column.at(last) === column && this.file.at(last) === file) return;
    }
    this.start.push(start);
    this.file.push(file);
    this.line.push(line);
    this.column.push(column);
  }

  endSequence(end: number): void {
    if (this.start.length === this.firstRow.at(this.firstRow.length - 1)) this.firstRow.length--;
    else this.sequenceEnd.push(end);
  }

  /** Takes back the open sequence, whose rows turned out to be unusable. */
  dropSequence(): void {
    const first = this.firstRow.at(--this.firstRow.length);
    for (const column of [this.start, this.file, this.line, this.column]) column.length = first;
  }

  /**
   * The rows ascending by address, each up to the next; a row of no file ends a sequence that nothing follows at once.
   * Where sequences overlap, the one that begins first keeps the ground, as the linker placed it there.
   */
  sorted(): { start: Uint32Array; file: Uint32Array; line: Uint32Array; column: Uint32Array } {
    const sequences = Array.from({ length: this.sequenceEnd.length }, (_, index) => index);
    const startOf = (sequence: number) => this.start.at(this.firstRow.at(sequence));
    sequences.sort((a, b) => startOf(a) - startOf(b) || a - b);
    const room = this.start.length + sequences.length;
    const columns = {
      start: new Uint32Array(room),
      file: new Uint32Array(room),
      line: new Uint32Array(room),
      column: new Uint32Array(room),
    };
    let at = 0;
    let covered = 0;
    for (const sequence of sequences) {
      const end = this.sequenceEnd.at(sequence);
      if (end <= covered) continue;
      const first = this.firstRow.at(sequence);
      const afterLast = sequence + 1 < this.firstRow.length ? this.firstRow.at(sequence + 1) : this.start.length;
      const from = startOf(sequence);
      if (at > 0 && from > covered) at = gap(columns, at, covered);
      for (let row = first; row < afterLast; row++) {
        const rowEnd = row + 1 < afterLast ? this.start.at(row + 1) : end;
        if (rowEnd <= covered) continue;
        columns.start[at] = Math.max(this.start.at(row), covered);
        columns.file[at] = this.file.at(row);
        columns.line[at] = this.line.at(row);
        columns.column[at++] = this.column.at(row);
      }
      covered = end;
    }
    if (at > 0) at = gap(columns, at, covered);
    const cut = (column: Uint32Array) => column.subarray(0, at);
    return { start: cut(columns.start), file: cut(columns.file), line: cut(columns.line), column: cut(columns.column) };
  }
}

function gap(columns: { start: Uint32Array; file: Uint32Array }, at: number, from: number): number {
  columns.start[at] = from;
  columns.file[at] = none;
  return at + 1;
}
