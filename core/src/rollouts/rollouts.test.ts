import { expect, it } from 'vitest';
import { flagChangeSchema, rolloutSchema, rolloutStatus, wordRolloutStatus, wordRolloutStep } from './rollouts.ts';

const step = (action: 'step' | 'halt' | 'resume', percent: number | null, day: number) => ({
  action,
  percent,
  at: `2026-11-0${day}T08:00:00Z`,
  note: `note of day ${day}`,
});

it('a rollout stands where its last step left it', () => {
  expect(rolloutStatus([])).toEqual({ percent: null, halted: false, since: null, note: '' });
  expect(rolloutStatus([step('step', 5, 1), step('step', 20, 2)])).toEqual({
    percent: 20,
    halted: false,
    since: '2026-11-02T08:00:00Z',
    note: 'note of day 2',
  });
  expect(rolloutStatus([step('step', 20, 1), step('halt', null, 2)])).toMatchObject({ percent: 20, halted: true });
  expect(rolloutStatus([step('step', 20, 1), step('halt', null, 2), step('resume', null, 3)])).toMatchObject({
    percent: 20,
    halted: false,
  });
});

it('a step says to which percent, halting and resuming need not', () => {
  expect(rolloutSchema.safeParse({ version: '4.3.1' }).success).toBe(false);
  expect(rolloutSchema.safeParse({ version: '4.3.1', percent: 101 }).success).toBe(false);
  expect(rolloutSchema.parse({ version: '4.3.1', percent: 0.5 })).toMatchObject({ action: 'step', percent: 0.5, commit: '', note: '' });
  expect(rolloutSchema.safeParse({ version: '4.3.1', action: 'halt' }).success).toBe(true);
  expect(flagChangeSchema.parse({ flag: 'night-map' })).toMatchObject({ variant: 'on', percent: null });
});

it('is said in a few words', () => {
  expect([step('step', 12.5, 1), step('halt', 20, 2), step('resume', null, 3)].map(wordRolloutStep)).toEqual([
    'to 12.5 %',
    'halted at 20 %',
    'resumed',
  ]);
  const status = { percent: 12.5, halted: false };
  expect([status, { ...status, halted: true }, { ...status, percent: null }].map(wordRolloutStatus)).toEqual([
    'is out to 12.5 %',
    'is halted',
    'is out',
  ]);
});
