import { goneState, none, type ReportIndex } from './report-index.ts';
import type { ScopeColumns } from './rows-in-scope.ts';

/** Rows that were added or changed since all were put in order; more, and they are put in order again. */
const leastLoose = 1_000;

const stateBits = 3;
const kindBits = 2;

/** The class of a row: its version, kind and state, which one look tells whether a scope wants it. */
export const classOf = ({ versionOf, kinds, states }: ReportIndex, row: number): number =>
  ((((versionOf.values[row] as number) << kindBits) | (kinds.values[row] as number)) << stateBits) | (states.values[row] as number);

export const kindOfClass = (of: number): number => (of >> stateBits) & ((1 << kindBits) - 1);
export const stateOfClass = (of: number): number => of & ((1 << stateBits) - 1);
export const versionOfClass = (of: number): number => of >> (stateBits + kindBits);

/** Of no report that is there. */
const goneClass = goneState;

/** For each class, 1 when a scope wants its rows. */
export function wantedClasses({ isWantedState, isWantedKind, isWantedVersion }: ScopeColumns): Uint8Array {
  return Uint8Array.from({ length: isWantedVersion.length << (kindBits + stateBits) }, (_, of) =>
    isWantedState[stateOfClass(of)] === 1 && isWantedKind[kindOfClass(of)] === 1 && isWantedVersion[versionOfClass(of)] === 1 ? 1 : 0,
  );
}

/** What a loop over many rows reads of each, by place. */
export interface RowColumns {
  readonly rows: Int32Array;
  readonly at: Float64Array;
  readonly classes: Uint32Array;
  readonly personOf: Int32Array;
  /** How many reports each stands for; null where each stands for itself. */
  readonly weights: Float32Array | null;
}

/** Places of columns from the first up to the end. */
export interface RowStretch {
  readonly columns: RowColumns;
  readonly first: number;
  readonly end: number;
}

/**
 * The columns of a report index once more, in the order of cases: a question about every case reads them from their start to
 * their end, where the order of arrival would make it jump for every row. Rows that have changed since are kept beside.
 */
export class CaseOrder implements RowColumns {
  rows = new Int32Array(0);
  at = new Float64Array(0);
  /** Version, kind and state of a row in one number; see `classOf`. */
  classes = new Uint32Array(0);
  personOf = new Int32Array(0);
  weights: Float32Array | null = null;
  /** Where the rows of each case begin, and behind the last case their end; those of no case come before all. */
  private starts = new Uint32Array(1);
  /** Rows that were added or changed since, by case. */
  private readonly loose = new Map<number, Set<number>>();

  private placeOfRow = new Int32Array(0);
  private readonly caseOfLoose = new Map<number, number>();
  private cases = 0;

  private constructor(private readonly index: ReportIndex) {}

  private static readonly orders = new WeakMap<ReportIndex, CaseOrder>();

  /** The order of an index as it is now. */
  static of(index: ReportIndex): CaseOrder {
    const order = CaseOrder.orders.get(index) ?? new CaseOrder(index);
    CaseOrder.orders.set(index, order);
    order.follow();
    return order;
  }

  /** The rows of a case, or of none, in stretches of columns: those in order, and those that have changed since. */
  stretchesOf(caseNumber: number): readonly RowStretch[] {
    const [first, end] = this.placesOf(caseNumber);
    const loose = this.loose.get(caseNumber);
    const sorted = { columns: this, first, end };
    if (!loose || loose.size === 0) return [sorted];
    const { index } = this;
    const rows = Int32Array.from(loose);
    const columns = {
      rows,
      at: Float64Array.from(rows, (row) => index.at.values[row] as number),
      classes: Uint32Array.from(rows, (row) => classOf(index, row)),
      personOf: Int32Array.from(rows, (row) => index.personOf.values[row] as number),
      weights: index.isWeighted ? Float32Array.from(rows, (row) => index.weightOf(row)) : null,
    };
    return [sorted, { columns, first: 0, end: rows.length }];
  }

  private placesOf(caseNumber: number): readonly [number, number] {
    if (caseNumber === none) return [0, this.starts[0] as number];
    // Cases that came later have loose rows only.
    if (caseNumber >= this.cases) return [0, 0];
    return [this.starts[caseNumber] as number, this.starts[caseNumber + 1] as number];
  }

  private follow(): void {
    const touched = this.index.takeTouched();
    if (touched.length === 0) return;
    if (this.caseOfLoose.size + touched.length > Math.max(leastLoose, this.index.rows / 16)) {
      this.sort();
      return;
    }
    for (const row of touched) this.loosen(row);
  }

  private loosen(row: number): void {
    const place = this.placeOfRow[row] ?? none;
    if (place !== none) this.classes[place] = goneClass;
    const before = this.caseOfLoose.get(row);
    if (before !== undefined) this.loose.get(before)?.delete(row);
    if (this.index.isGone(row)) {
      this.caseOfLoose.delete(row);
      return;
    }
    const caseNumber = this.index.caseOf.values[row] as number;
    this.caseOfLoose.set(row, caseNumber);
    const own = this.loose.get(caseNumber);
    if (own) own.add(row);
    else this.loose.set(caseNumber, new Set([row]));
  }

  /** A counting sort of every row by its case. */
  private sort(): void {
    const { index } = this;
    const count = index.rows;
    const caseOf = index.caseOf.values;
    const next = new Uint32Array(index.caseCount + 2);
    for (let row = 0; row < count; row++) {
      const behind = (caseOf[row] as number) + 2;
      next[behind] = (next[behind] as number) + 1;
    }
    for (let of = 1; of < next.length; of++) next[of] = (next[of] as number) + (next[of - 1] as number);
    this.rows = new Int32Array(count);
    this.placeOfRow = new Int32Array(count);
    for (let row = 0; row < count; row++) {
      const of = (caseOf[row] as number) + 1;
      const place = next[of] as number;
      next[of] = place + 1;
      this.rows[place] = row;
      this.placeOfRow[row] = place;
    }
    // Each group begins where the one before ends now.
    this.starts = next.subarray(0, index.caseCount + 1);
    this.cases = index.caseCount;
    this.at = this.gathered(index.at.values);
    this.personOf = this.gathered(index.personOf.values);
    this.weights = index.isWeighted ? this.gathered(index.weights.values) : null;
    this.classes = Uint32Array.from(this.rows, (row) => classOf(index, row));
    this.loose.clear();
    this.caseOfLoose.clear();
  }

  private gathered<Column extends Float32Array | Float64Array | Int32Array>(column: Column): Column {
    const { rows } = this;
    const sorted = new (column.constructor as new (length: number) => Column)(rows.length);
    for (let place = 0; place < rows.length; place++) sorted[place] = column[rows[place] as number] as number;
    return sorted;
  }
}
