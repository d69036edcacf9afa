import { describe, expect, it } from 'vitest';
import { wordBytes, wordCount } from './numbers';
import { wordAgo, wordTime } from './time';

describe('numbers in words', () => {
  it.each([
    [0, '0 B'],
    [999, '999 B'],
    [1_234, '1.2 kB'],
    [212_400, '212 kB'],
    [9_100_000, '9.1 MB'],
    [5_000_000_000, '5 GB'],
  ])('%d bytes are %s', (bytes, words) => expect(wordBytes(bytes)).toBe(words));

  it('counts one apart', () =>
    expect([wordCount(1, 'person', 'people'), wordCount(1284, 'person', 'people')]).toEqual(['1 person', '1,284 people']));
});

describe('time in words', () => {
  const now = '2026-11-23T08:00:00.000Z';
  it.each([
    ['2026-11-23T07:59:30.000Z', 'just now'],
    ['2026-11-23T07:58:30.000Z', 'a minute ago'],
    ['2026-11-23T03:00:00.000Z', '5 hours ago'],
    ['2026-11-22T07:00:00.000Z', 'a day ago'],
    ['2026-11-11T08:00:00.000Z', '12 days ago'],
    ['2026-08-31T08:00:00.000Z', 'on 31 Aug 2026'],
    ['2026-11-23T08:00:30.000Z', 'just now'],
  ])('%s is %s', (iso, words) => expect(wordAgo(iso, now)).toBe(words));

  it('names one zone', () => expect(wordTime(now)).toBe('23 Nov 2026, 08:00 UTC'));
});
