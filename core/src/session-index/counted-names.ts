import type { BlockNames } from './day-block.ts';
import type { NamedCount } from './person-day.ts';

/** Names that somebody makes up by the thousand must not fill the memory: those beyond so many are counted as one. */
const mostNames = 20_000;
export const otherNames = '\u2026';
const mostOfACount = 65_535;

/** A row may have several names, with two counts each: what sessions did. Entries of a row follow each other. */
export class CountedNames {
  readonly dictionary: string[] = [];
  /** Where the entries of each row begin, and how many there are. */
  starts = new Uint32Array(0);
  lengths = new Uint16Array(0);
  codes = new Uint16Array(0);
  counts = new Uint16Array(0);
  parts = new Uint16Array(0);
  /** Entries, those of rows that are gone among them. */
  entries = 0;
  private readonly codeOf = new Map<string, number>();

  private code(name: string): number {
    const known = this.codeOf.get(name);
    if (known !== undefined) return known;
    if (this.dictionary.length >= mostNames) return this.codeOf.get(otherNames) ?? this.add(otherNames);
    return this.add(name);
  }

  private add(name: string): number {
    const code = this.dictionary.push(name) - 1;
    this.codeOf.set(name, code);
    return code;
  }

  /** Makes room for rows up to a count; new ones have no entries. */
  reserve(rows: number): void {
    if (rows <= this.lengths.length) return;
    const room = Math.max(rows, 2 * this.lengths.length, 1024);
    this.starts = grown(this.starts, room);
    this.lengths = grown(this.lengths, room);
  }

  private reserveEntries(more: number): void {
    const wanted = this.entries + more;
    if (wanted <= this.codes.length) return;
    const room = Math.max(wanted, 2 * this.codes.length, 1024);
    this.codes = grown(this.codes, room);
    this.counts = grown(this.counts, room);
    this.parts = grown(this.parts, room);
  }

  /** Gives a new row its entries. */
  put(row: number, entries: readonly NamedCount[]): void {
    this.starts[row] = this.entries;
    this.lengths[row] = Math.min(entries.length, mostOfACount);
    if (entries.length === 0) return;
    this.reserveEntries(entries.length);
    for (const { name, count, part } of entries.slice(0, mostOfACount)) {
      this.codes[this.entries] = this.code(name);
      this.counts[this.entries] = Math.min(count, mostOfACount);
      this.parts[this.entries] = Math.min(part, mostOfACount);
      this.entries++;
    }
  }

  /** Gives rows from one on the entries of a day that was kept. */
  append(from: number, { dictionary, lengths, codes, counts, parts }: BlockNames): void {
    this.reserveEntries(codes.length);
    const codeOf = dictionary.map((name) => this.code(name));
    for (let row = 0, at = this.entries; row < lengths.length; row++) {
      this.starts[from + row] = at;
      this.lengths[from + row] = lengths[row] as number;
      at += lengths[row] as number;
    }
    for (let at = 0; at < codes.length; at++) this.codes[this.entries + at] = codeOf[codes[at] as number] as number;
    this.counts.set(counts, this.entries);
    this.parts.set(parts, this.entries);
    this.entries += codes.length;
  }

  /** The entries of some rows, with codes of their own. */
  only(rows: Uint32Array): BlockNames {
    const { codes, ...entries } = this.entriesOf(rows);
    const dictionary: string[] = [];
    const places = new Int32Array(this.dictionary.length).fill(-1);
    for (let at = 0; at < codes.length; at++) {
      const code = codes[at] as number;
      if (places[code] === -1) places[code] = dictionary.push(this.dictionary[code] as string) - 1;
      codes[at] = places[code] as number;
    }
    return { dictionary, codes, ...entries };
  }

  /** Puts the rows into another order: row `n` becomes what row `order[n]` was, and the rest is dropped. */
  reorder(order: Uint32Array): void {
    const { lengths, codes, counts, parts } = this.entriesOf(order);
    const starts = new Uint32Array(order.length);
    for (let row = 0, at = 0; row < order.length; at += lengths[row++] as number) starts[row] = at;
    Object.assign(this, { starts, lengths, codes, counts, parts, entries: codes.length });
  }

  /** The entries of some rows, one row after the other. */
  private entriesOf(rows: Uint32Array): Omit<BlockNames, 'dictionary'> {
    const lengths = new Uint16Array(rows.length);
    let count = 0;
    for (let place = 0; place < rows.length; place++) {
      const length = this.lengths[rows[place] as number] as number;
      lengths[place] = length;
      count += length;
    }
    const codes = new Uint16Array(count);
    const counts = new Uint16Array(count);
    const parts = new Uint16Array(count);
    for (let place = 0, to = 0; place < rows.length; place++) {
      const from = this.starts[rows[place] as number] as number;
      for (let at = from; at < from + (lengths[place] as number); at++, to++) {
        codes[to] = this.codes[at] as number;
        counts[to] = this.counts[at] as number;
        parts[to] = this.parts[at] as number;
      }
    }
    return { lengths, codes, counts, parts };
  }
}

function grown<Column extends Uint16Array | Uint32Array>(column: Column, room: number): Column {
  const larger = new (column.constructor as new (length: number) => Column)(room);
  larger.set(column);
  return larger;
}
