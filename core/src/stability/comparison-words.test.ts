import { describe, expect, it } from 'vitest';
import { parseDay } from '../session-index/person-day.ts';
import { type Comparison, compareSides } from './comparison.ts';
import { wordBaseline, wordComparison, wordDisagreement, wordFree, wordThousandth } from './comparison-words.ts';
import { sidesOfParts } from './sides.ts';
import type { VersionComparison } from './version-comparison.ts';

const compared = (newer: readonly [number, number], older: readonly [number, number]): Comparison =>
  compareSides(sidesOfParts({ hits: newer[0], count: newer[1] }, { hits: older[0], count: older[1] }));

it.each([
  [0, '0'],
  [0.5, '0.5'],
  [3.94, '3.94'],
  [12.34, '12.3'],
  [1_234.5, '1,235'],
])('%d for 1,000 is %s', (rate, words) => expect(wordThousandth(rate)).toBe(words));

it.each([
  [0.9961, '99.61 %'],
  [0.99987, '99.987 %'],
  [1, '100.00 %'],
  [Number.NaN, '–'],
  // Behind the API, where JSON has no NaN.
  [null as unknown as number, '–'],
])('%d of sessions without a crash is %s', (share, words) => expect(wordFree(share)).toBe(words));

describe('a comparison in words', () => {
  it('says by how much, and how sure that is, without a sign to puzzle over', () => {
    expect(wordComparison(compared([150, 10_000], [80, 10_000]), { than: '4.2.0' })).toBe(
      'worse than 4.2.0 by 7 for 1,000 sessions (4.04 to 10)',
    );
    expect(wordComparison(compared([80, 10_000], [150, 10_000]), { than: '4.2.0' })).toBe(
      'better than 4.2.0 by 7 for 1,000 sessions (4.04 to 10)',
    );
    expect(wordComparison(compared([5_000, 1_000_000], [5_010, 1_000_000]), { than: '4.2.0' })).toBe(
      'like 4.2.0, no difference to speak of',
    );
  });

  it('says what would show by now, and by when half of that', () => {
    const early = compared([82, 10_000], [80, 10_000]);
    expect(wordComparison(early, { than: '4.2.0', halfBy: parseDay('2026-12-09') })).toMatch(
      /^too early to compare with 4\.2\.0: by now a difference of 3\.\d+ for 1,000 sessions would show, one of 1\.\d+ from about 9 Dec$/,
    );
    expect(wordComparison(compared([1, 60], [80, 10_000]), { than: '4.2.0' })).toBe(
      'too early to compare with 4.2.0: too few people, or too few of them met a crash',
    );
  });

  it('speaks of the difference within strata, and says when the plain one says otherwise', () => {
    const plain = compared([80, 10_000], [150, 10_000]);
    const within: Comparison = { ...plain, standardised: { value: -0.001, low: -0.004, high: 0.002 }, verdict: 'too-early' };
    expect(wordDisagreement(within)).toBe(
      'The plain rates differ by −7 for 1,000 sessions, but those who have it are not like the others: among equal systems, devices and countries it is −1 (−4 to +2).',
    );
    expect(wordDisagreement(plain)).toBeNull();
    expect(wordDisagreement({ ...plain, standardised: { value: -0.006, low: -0.009, high: -0.003 } })).toBeNull();
    expect(wordComparison({ ...plain, standardised: { value: -0.006, low: -0.009, high: -0.003 } }, { than: '4.2.0' })).toBe(
      'better than 4.2.0 by 6 for 1,000 sessions (3 to 9)',
    );
  });

  it('names what is compared with what, why, and since when', () => {
    const span = { first: parseDay('2026-11-26'), last: parseDay('2026-12-01') };
    const comparison = {
      than: '4.2.0',
      reason: 'out-to-everybody',
      alignment: 'days',
      spans: { newer: span, older: span },
    } as VersionComparison;
    expect(wordBaseline(comparison)).toBe('4.2.0, the last version before it that was out to everybody, both since 26 Nov');
    expect(wordBaseline({ ...comparison, reason: 'chosen', alignment: 'release' })).toBe('4.2.0, chosen, each over its first 6 days');
  });
});
