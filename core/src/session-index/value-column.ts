import type { BlockField } from './day-block.ts';
import type { SessionField } from './person-day.ts';

type Codes = Uint8Array | Uint16Array | Uint32Array;

/** The code of rows that do not tell a field. */
export const notTold = 0;

/** The values of one field of all rows, as codes of a dictionary; as narrow as the number of different values allows. */
export class ValueColumn {
  codes: Codes = new Uint8Array(0);
  /** The values by their code; that of 0 is never looked at. */
  readonly dictionary: string[] = [''];
  private readonly codeOf = new Map<string, number>();

  constructor(readonly field: SessionField) {}

  /** The code of a value, a new one for a new value. */
  code(value: string): number {
    const known = this.codeOf.get(value);
    if (known !== undefined) return known;
    const code = this.dictionary.length;
    this.dictionary.push(value);
    this.codeOf.set(value, code);
    if (code > widest(this.codes))
      this.codes = this.codes instanceof Uint8Array ? Uint16Array.from(this.codes) : Uint32Array.from(this.codes);
    return code;
  }

  /** Makes room for rows up to a count; new ones tell nothing. */
  reserve(rows: number): void {
    if (rows <= this.codes.length) return;
    const Column = this.codes.constructor as new (length: number) => Codes;
    const grown = new Column(Math.max(rows, this.codes.length * 2, 1024));
    grown.set(this.codes);
    this.codes = grown;
  }

  /** The values of some rows, with codes of their own. */
  only(rows: Uint32Array): BlockField {
    const dictionary = [''];
    const codeOf = new Uint32Array(this.dictionary.length);
    const codes = Uint32Array.from(rows, (row) => {
      const code = this.codes[row] ?? notTold;
      if (code !== notTold && codeOf[code] === 0) codeOf[code] = dictionary.push(this.dictionary[code] as string) - 1;
      return codeOf[code] as number;
    });
    return { ...this.field, dictionary, codes };
  }

  /** Puts the rows into another order: row `n` becomes what row `order[n]` was. */
  reorder(order: Uint32Array): void {
    const Column = this.codes.constructor as new (length: number) => Codes;
    const sorted = new Column(order.length);
    const { codes } = this;
    for (let row = 0; row < order.length; row++) sorted[row] = codes[order[row] as number] as number;
    this.codes = sorted;
  }
}

const widest = (codes: Codes): number => 2 ** (8 * codes.BYTES_PER_ELEMENT) - 1;
