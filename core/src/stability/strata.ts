/**
 * The difference of two rates within strata, such as systems and devices, so that like is compared with like: two versions may differ only
 * because newer phones come first. Strata weigh by Mantel and Haenszel, wₛ = N₁ₛN₂ₛ/(N₁ₛ+N₂ₛ) (Greenland and Robins 1985, Biometrics 41,
 * 55–68); the variance is that of persons' influences, φ = Σₛ wₛ[(x₁ₛ − p₁ₛn₁ₛ)/N₁ₛ − (x₂ₛ − p₂ₛn₂ₛ)/N₂ₛ] / Σwₛ.
 */
export interface Standardised {
  /** The newer rate minus the older one, within strata. */
  readonly value: number;
  readonly variance: number;
  /** Σwₛ. */
  readonly weight: number;
  /** Strata that have sessions of both sides, and how many of all sessions lie in those. */
  readonly strata: number;
  readonly shareCompared: number;
}

/** Numbers of a row: person, stratum, x₁, n₁, x₂, n₂. */
const rowWidth = 6;

/** What was done on both sides, by person and stratum: the rows of a person follow each other. */
export class StrataTally {
  private rows = new Int32Array(64 * rowWidth);
  private length = 0;
  private readonly places = new Map<number, number>();
  private person = -1;
  private personAt = 0;

  /** Adds sessions of a person in a stratum; `place` is 0 for the newer side and 2 for the older one. */
  add(person: number, stratum: number, place: number, bad: number, sessions: number): void {
    const at = this.rowOf(person, this.placeOf(stratum));
    this.rows[at + place + 2] = (this.rows[at + place + 2] as number) + bad;
    this.rows[at + place + 3] = (this.rows[at + place + 3] as number) + sessions;
  }

  private placeOf(stratum: number): number {
    const known = this.places.get(stratum);
    if (known !== undefined) return known;
    this.places.set(stratum, this.places.size);
    return this.places.size - 1;
  }

  /** Where the row of a person and a stratum begins. */
  private rowOf(person: number, stratum: number): number {
    if (person !== this.person) {
      this.person = person;
      this.personAt = this.length;
    }
    for (let at = this.personAt; at < this.length; at += rowWidth) if (this.rows[at + 1] === stratum) return at;
    if (this.length === this.rows.length) {
      const grown = new Int32Array(2 * this.length);
      grown.set(this.rows);
      this.rows = grown;
    }
    const at = this.length;
    this.rows[at] = person;
    this.rows[at + 1] = stratum;
    this.length += rowWidth;
    return at;
  }

  /** Null where no stratum has sessions of both sides. */
  standardised(): Standardised | null {
    const { rows, length, places } = this;
    const sums = new Float64Array(4 * places.size);
    for (let at = 0; at < length; at += rowWidth)
      for (let place = 0; place < 4; place++) {
        const sum = 4 * (rows[at + 1] as number) + place;
        sums[sum] = (sums[sum] as number) + (rows[at + 2 + place] as number);
      }
    const { told, factors } = weigh(sums);
    return told.weight === 0 ? null : { ...told, variance: this.influenceSquares(factors) };
  }

  /** Σ φ², φ being the sum of a person's rows each times the factors of its stratum. */
  private influenceSquares(factors: Float64Array): number {
    const { rows, length } = this;
    let squares = 0;
    let influence = 0;
    for (let at = 0; at < length; at += rowWidth) {
      if (at > 0 && rows[at] !== rows[at - rowWidth]) {
        squares += influence ** 2;
        influence = 0;
      }
      for (let place = 0; place < 4; place++)
        influence += (factors[4 * (rows[at + 1] as number) + place] as number) * (rows[at + 2 + place] as number);
    }
    return squares + influence ** 2;
  }
}

/** The weighted difference, and by which factors x₁, n₁, x₂, n₂ of each stratum add to a person's influence on it. */
function weigh(sums: Float64Array): { told: Omit<Standardised, 'variance'>; factors: Float64Array } {
  const factors = new Float64Array(sums.length);
  let [weight, difference, strata, compared, all] = [0, 0, 0, 0, 0];
  for (let at = 0; at < sums.length; at += 4) {
    const [x1, n1, x2, n2] = sums.subarray(at, at + 4) as unknown as [number, number, number, number];
    all += n1 + n2;
    if (n1 === 0 || n2 === 0) continue;
    const own = (n1 * n2) / (n1 + n2);
    const [p1, p2] = [x1 / n1, x2 / n2];
    weight += own;
    difference += own * (p1 - p2);
    strata++;
    compared += n1 + n2;
    factors.set([own / n1, (-own * p1) / n1, -own / n2, (own * p2) / n2], at);
  }
  if (weight > 0) for (let at = 0; at < factors.length; at++) factors[at] = (factors[at] as number) / weight;
  return { told: { value: difference / weight, weight, strata, shareCompared: all === 0 ? 0 : compared / all }, factors };
}
