import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { chanceOfAsMany } from './exact-tail.ts';

describe('the chance of as many', () => {
  // Fisher 1935, The Design of Experiments, chapter II: a lady who tells all of eight cups right does so by chance in 1 of 70.
  it('is that of the lady who tasted tea', () => {
    expect(chanceOfAsMany({ hits: 4, count: 4 }, { hits: 0, count: 4 })).toBeCloseTo(1 / 70, 12);
    expect(chanceOfAsMany({ hits: 3, count: 4 }, { hits: 1, count: 4 })).toBeCloseTo(17 / 70, 12);
  });

  it('is certain of none, and falls with each more', () => {
    const anyPart = fc.nat(300).chain((count) => fc.record({ hits: fc.nat(count), count: fc.constant(count + 1) }));
    fc.assert(
      fc.property(anyPart, anyPart, (one, other) => {
        expect(chanceOfAsMany({ ...one, hits: 0 }, other)).toBeCloseTo(1, 8);
        const [fewer, more] = [one.hits, one.hits + 1].map((hits) =>
          chanceOfAsMany({ ...one, hits }, { ...other, hits: other.hits + one.hits - hits }),
        );
        if (other.hits > 0) expect(more as number).toBeLessThanOrEqual((fewer as number) + 1e-12);
      }),
    );
  });

  it('of three who all have what a third of thousands have is no wonder', () =>
    expect(chanceOfAsMany({ hits: 3, count: 3 }, { hits: 1_000, count: 3_000 })).toBeCloseTo(1 / 27, 2));
});
