import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { AnswerCache } from './answer-cache.ts';

beforeEach(() => void vi.useFakeTimers());
afterEach(() => void vi.useRealTimers());

/** A question whose looking takes so long, by the clock of the test; answers with how often it was asked. */
function question(costMs: number) {
  const kept = new AnswerCache<{ revision: number }, number>();
  const index = { revision: 1 };
  let made = 0;
  const ask = (name = 'scope') =>
    kept.of(index, name, () => {
      vi.advanceTimersByTime(costMs);
      made++;
      return made;
    });
  return { index, ask };
}

it('keeps an answer while nothing changes, for a minute', () => {
  const { ask } = question(10);
  expect([ask(), ask()]).toEqual([1, 1]);
  vi.advanceTimersByTime(60_001);
  expect(ask()).toBe(2);
});

it('makes a quick answer anew after every change', () => {
  const { index, ask } = question(0);
  ask();
  index.revision++;
  expect(ask()).toBe(2);
});

it('looks at a large index that changes all the time for a twentieth of the time at most', () => {
  const { index, ask } = question(300);
  ask();
  const began = Date.now();
  let last = 1;
  while (Date.now() - began < 60_000) {
    index.revision++;
    vi.advanceTimersByTime(100);
    last = ask();
  }
  expect(last - 1).toBeGreaterThan(5);
  expect((last - 1) * 300).toBeLessThanOrEqual(60_000 / 20 + 300);
});

it('keeps the answers to a few questions beside each other', () => {
  const { ask } = question(10);
  expect([ask('here'), ask('there'), ask('here')]).toEqual([1, 2, 1]);
  for (let at = 0; at < 24; at++) ask(`elsewhere ${at}`);
  expect(ask('here')).toBe(27);
});
