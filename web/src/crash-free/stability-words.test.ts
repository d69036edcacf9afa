import { compareShares } from '@rough-ember/core/stability/difference';
import { describe, expect, it } from 'vitest';
import { roundedUp, wordComparison, wordFree, wordThousandth } from './stability-words';

describe('rates in words', () => {
  it.each([
    [0.9961, '99.61 %'],
    [0.99987, '99.987 %'],
    [1, '100.00 %'],
    [Number.NaN, '–'],
    // Behind the API, where JSON has no NaN.
    [null as unknown as number, '–'],
  ])('%d of sessions without a crash is %s', (share, words) => expect(wordFree(share)).toBe(words));

  it.each([
    [0, '0'],
    [0.5, '0.5'],
    [3.94, '3.94'],
    [12.34, '12.3'],
    [1_234.5, '1,235'],
  ])('%d for 1,000 is %s', (rate, words) => expect(wordThousandth(rate)).toBe(words));

  it.each([
    [98, 98],
    [123, 130],
    [8_812, 8_900],
  ])('about %d is %d', (count, rounded) => expect(roundedUp(count)).toBe(rounded));
});

describe('a comparison in words', () => {
  const part = (hits: number, count: number) => ({ hits, count });
  it('says by how much, and how sure that is', () => {
    expect(wordComparison(compareShares(part(150, 10_000), part(80, 10_000)))).toBe('worse by 7 for 1,000 sessions (4.06 to 10)');
    expect(wordComparison(compareShares(part(80, 10_000), part(150, 10_000)))).toBe('better by 7 for 1,000 sessions (4.06 to 10)');
    expect(wordComparison(compareShares(part(5_000, 1_000_000), part(5_010, 1_000_000)))).toBe('no difference to speak of');
  });
  it('says how many more sessions it takes when it is too early', () =>
    expect(wordComparison(compareShares(part(1, 60), part(80, 10_000)))).toMatch(
      /^too early to say: it takes about [\d,]+ more sessions$/,
    ));
});
