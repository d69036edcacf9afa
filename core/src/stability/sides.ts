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

/** Adds up both sides, person by person; what a person did may grow afterwards. */
export class SidesTally {
  private readonly values = {
    newer: { hits: 0, count: 0, persons: 0, personsHit: 0 },
    older: { hits: 0, count: 0, persons: 0, personsHit: 0 },
  };
  private readonly products = new Array<number>(10).fill(0);

  /** Counts a person with bad sessions and all sessions of the newer side, and of the older one. */
  add(x1: number, n1: number, x2: number, n2: number): void {
    this.count(x1, n1, x2, n2, 1);
  }

  /** Takes a person out again who was counted so. */
  remove(x1: number, n1: number, x2: number, n2: number): void {
    this.count(x1, n1, x2, n2, -1);
  }

  private count(x1: number, n1: number, x2: number, n2: number, times: 1 | -1): void {
    const { newer, older } = this.values;
    for (const [side, x, n] of [[newer, x1, n1] as const, [older, x2, n2] as const]) {
      side.hits += times * x;
      side.count += times * n;
      if (n > 0) side.persons += times;
      if (x > 0) side.personsHit += times;
    }
    const person = [x1, n1, x2, n2];
    for (let row = 0; row < 4; row++)
      for (let column = row; column < 4; column++) {
        const place = placeOf[row]?.[column] as number;
        this.products[place] = (this.products[place] as number) + times * (person[row] as number) * (person[column] as number);
      }
  }

  get sides(): Sides {
    return { newer: { ...this.values.newer }, older: { ...this.values.older }, products: [...this.products] };
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
