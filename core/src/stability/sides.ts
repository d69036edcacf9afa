/** Some of a number: sessions that crashed of all sessions. */
export interface Part {
  readonly hits: number;
  readonly count: number;
}

/** Sums of one side of a comparison. */
export interface SideSums extends Part {
  readonly persons: number;
  /** Persons with a session that ended badly. */
  readonly personsHit: number;
}

/**
 * Both sides of a comparison, with what tells how surely their difference is known: the sums over persons of the products of
 * x₁, n₁, x₂, n₂, their sessions n on each side and those x of them that ended badly. Somebody who upgraded stands on both.
 */
export interface Sides {
  readonly newer: SideSums;
  readonly older: SideSums;
  /** Row by row the upper half of the symmetric matrix of products, in the order x₁, n₁, x₂, n₂: ten numbers. */
  readonly products: readonly number[];
}

/** Where the product of two of x₁, n₁, x₂, n₂ stands. */
const placeOf = [
  [0, 1, 2, 3],
  [1, 4, 5, 6],
  [2, 5, 7, 8],
  [3, 6, 8, 9],
] as const;

/** Σ (c·v)² over persons, for a linear combination c of each person's v = (x₁, n₁, x₂, n₂). */
export function sumOfSquares({ products }: Pick<Sides, 'products'>, c: readonly [number, number, number, number]): number {
  let sum = 0;
  for (let row = 0; row < 4; row++)
    for (let column = 0; column < 4; column++)
      sum += (c[row] as number) * (c[column] as number) * (products[placeOf[row]?.[column] as number] as number);
  return Math.max(0, sum);
}

/** Where the sums of a side stand: bad sessions, sessions, persons, persons hit. */
const [hits, count, persons, personsHit, sideWidth] = [0, 1, 2, 3, 4];

/** Adds up both sides, person by person; what a person did may grow afterwards. It runs for every person of an app. */
export class SidesTally {
  private readonly sums = new Float64Array(2 * sideWidth);
  private readonly products = new Float64Array(10);

  /** Counts a person with bad sessions and all sessions of the newer side, and of the older one. */
  add(x1: number, n1: number, x2: number, n2: number): void {
    this.count(x1, n1, x2, n2, 1);
  }

  /** Takes a person out again who was counted so. */
  remove(x1: number, n1: number, x2: number, n2: number): void {
    this.count(x1, n1, x2, n2, -1);
  }

  private count(x1: number, n1: number, x2: number, n2: number, times: 1 | -1): void {
    const { products } = this;
    if (n1 > 0) {
      this.addSide(0, x1, n1, times);
      products[4] = (products[4] as number) + times * n1 * n1;
    }
    if (n2 > 0) {
      this.addSide(sideWidth, x2, n2, times);
      products[9] = (products[9] as number) + times * n2 * n2;
    }
    if (n1 > 0 && n2 > 0) products[6] = (products[6] as number) + times * n1 * n2;
    // Hardly anybody meets a bad end.
    if (x1 + x2 === 0) return;
    products[0] = (products[0] as number) + times * x1 * x1;
    products[1] = (products[1] as number) + times * x1 * n1;
    products[2] = (products[2] as number) + times * x1 * x2;
    products[3] = (products[3] as number) + times * x1 * n2;
    products[5] = (products[5] as number) + times * n1 * x2;
    products[7] = (products[7] as number) + times * x2 * x2;
    products[8] = (products[8] as number) + times * x2 * n2;
  }

  private addSide(at: number, x: number, n: number, times: 1 | -1): void {
    const { sums } = this;
    sums[at + hits] = (sums[at + hits] as number) + times * x;
    sums[at + count] = (sums[at + count] as number) + times * n;
    sums[at + persons] = (sums[at + persons] as number) + times;
    if (x > 0) sums[at + personsHit] = (sums[at + personsHit] as number) + times;
  }

  get sides(): Sides {
    const side = (at: number): SideSums => ({
      hits: this.sums[at + hits] as number,
      count: this.sums[at + count] as number,
      persons: this.sums[at + persons] as number,
      personsHit: this.sums[at + personsHit] as number,
    });
    return { newer: side(0), older: side(sideWidth), products: [...this.products] };
  }
}

/**
 * Two sides of which only sums are known, as if each unit were somebody else's; or, where those of one person are alike, with the design
 * effect that this has.
 */
export function sidesOfParts(newer: Part, older: Part, effect = 1): Sides {
  const sums = ({ hits, count }: Part): SideSums => ({ hits, count, persons: count, personsHit: hits / effect });
  const products = [newer.hits, newer.hits, 0, 0, newer.count, 0, 0, older.hits, older.hits, older.count];
  return { newer: sums(newer), older: sums(older), products: products.map((product) => effect * product) };
}

/** The two sides the other way round. */
export const swapped = ({ newer, older, products }: Sides): Sides => ({
  newer: older,
  older: newer,
  products: [2, 3, 0, 1].flatMap((row, at, order) => order.slice(at).map((column) => products[placeOf[row]?.[column] as number] as number)),
});
