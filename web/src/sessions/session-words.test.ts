import { expect, it } from 'vitest';
import { endedWords, wordDuration, wordOffset } from './session-words';

it.each([
  [400, '0 s'],
  [8_000, '8 s'],
  [250_000, '4 min 10 s'],
  [240_000, '4 min'],
  [3_900_000, '1 h 5 min'],
  [7_200_000, '2 h'],
])('%d ms took %s', (ms, words) => expect(wordDuration(ms)).toBe(words));

it('an end is told in words', () => {
  expect(endedWords({ state: 'ended', crashedAfterMs: null })).toBe('well');
  expect(endedWords({ state: 'crashed', crashedAfterMs: 2_100 })).toBe('crashed after 2 s');
});

it('a moment is told by the time since the start', () => {
  expect(wordOffset('2026-11-28T08:00:42.340Z', '2026-11-28T08:00:00Z')).toBe('+0:42.3');
  expect(wordOffset('2026-11-28T07:59:59Z', '2026-11-28T08:00:00Z')).toBe('+0:00.0');
});
