import type { Random } from '@rough-ember/demo/random';

/** A normal number (Box and Muller). */
const normal = (random: Random): number => Math.sqrt(-2 * Math.log(1 - random.next())) * Math.cos(2 * Math.PI * random.next());

/** A number whose logarithm is normal, one on average. */
export const lognormal = (random: Random, deviation: number): number => Math.exp(deviation * normal(random) - deviation ** 2 / 2);

/** A gamma number of a shape, that shape on average (Marsaglia and Tsang 2000). */
export function gamma(random: Random, shape: number): number {
  if (shape < 1) return gamma(random, shape + 1) * (1 - random.next()) ** (1 / shape);
  const d = shape - 1 / 3;
  for (;;) {
    const x = normal(random);
    const v = (1 + x / Math.sqrt(9 * d)) ** 3;
    if (v > 0 && Math.log(1 - random.next()) < x ** 2 / 2 + d - d * v + d * Math.log(v)) return d * v;
  }
}

/** A Poisson number, for small means (Knuth). */
export function poisson(random: Random, mean: number): number {
  const bound = Math.exp(-mean);
  let count = 0;
  for (let left = random.next(); left > bound; left *= random.next()) count++;
  return count;
}
