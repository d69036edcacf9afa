import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { paceSchema } from './alert-rule.ts';
import { type Calendar, dueTime, gatheredMs, localTime } from './due-time.ts';

const pace = (given: object) => paceSchema.parse(given);
const atOnce = pace({});
const utc: Calendar = { zone: 'UTC', quiet: null };
const night = { from: 22 * 60, to: 7 * 60 };
const due = (at: string, how = atOnce, calendar = utc, last: string | null = null) =>
  new Date(dueTime(Date.parse(at), how, calendar, last === null ? null : Date.parse(last))).toISOString();

describe('when somebody is told', () => {
  it('at once, with what happens in the same moment', () =>
    expect(due('2026-11-02T10:00:00.000Z')).toBe(new Date(Date.parse('2026-11-02T10:00:00.000Z') + gatheredMs).toISOString()));
  it('at once, but not sooner after the last time than the rule says', () =>
    expect(due('2026-11-02T10:05:00.000Z', pace({ everyMinutes: 30 }), utc, '2026-11-02T10:00:00.000Z')).toBe('2026-11-02T10:30:00.000Z'));
  it('together with what waits already', () =>
    expect(due('2026-11-02T10:05:00.000Z', atOnce, utc, '2026-11-02T10:20:00.000Z')).toBe('2026-11-02T10:20:00.000Z'));
  it('at the full hour of their zone', () => {
    expect(due('2026-11-02T10:05:00.000Z', pace({ when: 'hourly' }))).toBe('2026-11-02T11:00:00.000Z');
    expect(due('2026-11-02T10:05:00.000Z', pace({ when: 'hourly' }), { zone: 'Asia/Kolkata', quiet: null })).toBe(
      '2026-11-02T10:30:00.000Z',
    );
  });
  it('at eight in the morning of their zone', () => {
    expect(due('2026-11-02T10:05:00.000Z', pace({ when: 'daily' }))).toBe('2026-11-03T08:00:00.000Z');
    expect(due('2026-11-02T10:05:00.000Z', pace({ when: 'daily' }), { zone: 'America/New_York', quiet: null })).toBe(
      '2026-11-02T13:00:00.000Z',
    );
  });
  it('after quiet hours, which go over midnight', () => {
    const calendar = { zone: 'Europe/Oslo', quiet: night };
    expect(due('2026-11-02T20:59:00.000Z', atOnce, calendar)).toBe('2026-11-02T20:59:02.000Z');
    expect(due('2026-11-02T21:30:00.000Z', atOnce, calendar)).toBe('2026-11-03T06:00:00.000Z');
    expect(due('2026-11-03T05:59:00.000Z', atOnce, calendar)).toBe('2026-11-03T06:00:00.000Z');
    expect(due('2026-11-03T06:00:00.000Z', atOnce, calendar)).toBe('2026-11-03T06:00:02.000Z');
  });
  it('on the days that the clocks change', () => {
    const calendar = { zone: 'Europe/Oslo', quiet: night };
    // Back at 3:00 on 25 October, forward at 2:00 on 29 March.
    expect(due('2026-10-24T22:00:00.000Z', atOnce, calendar)).toBe('2026-10-25T06:00:00.000Z');
    expect(due('2026-03-28T22:00:00.000Z', atOnce, calendar)).toBe('2026-03-29T05:00:00.000Z');
    expect(due('2026-10-24T10:00:00.000Z', pace({ when: 'daily' }), calendar)).toBe('2026-10-25T07:00:00.000Z');
    // 2:30 is not there on that morning.
    expect(due('2026-03-29T00:30:00.000Z', atOnce, { zone: 'Europe/Oslo', quiet: { from: 22 * 60, to: 150 } })).toBe(
      '2026-03-29T01:30:00.000Z',
    );
  });
  it('on working days, where the rule says so', () => {
    // 7 November 2026 is a Saturday.
    expect(due('2026-11-07T10:00:00.000Z', pace({ workingDays: true }))).toBe('2026-11-09T08:00:00.000Z');
    expect(due('2026-11-06T10:00:00.000Z', pace({ when: 'daily', workingDays: true }))).toBe('2026-11-09T08:00:00.000Z');
    expect(due('2026-11-07T10:00:00.000Z', pace({ workingDays: true }), { zone: 'UTC', quiet: { from: 22 * 60, to: 9 * 60 } })).toBe(
      '2026-11-09T09:00:00.000Z',
    );
  });

  it('never in quiet hours, never before it happened, and within four days, whatever the zone and the moment', () => {
    const zones = ['UTC', 'Europe/Oslo', 'America/New_York', 'Asia/Kolkata', 'Australia/Lord_Howe', 'America/Havana', 'Pacific/Apia'];
    const minute = fc.integer({ min: 0, max: 1439 });
    fc.assert(
      fc.property(
        fc.integer({ min: Date.parse('2026-01-01'), max: Date.parse('2027-01-01') }),
        fc.constantFrom(...zones),
        fc.record({ from: minute, to: minute }),
        fc.constantFrom('at-once' as const, 'hourly' as const, 'daily' as const),
        (at, zone, quiet, when) => {
          const found = dueTime(at, pace({ when }), { zone, quiet }, null);
          expect(found).toBeGreaterThanOrEqual(at);
          expect(found - at).toBeLessThan(4 * 86_400_000);
          const { minute: shown } = localTime(found, zone);
          const isQuiet =
            quiet.from === quiet.to
              ? false
              : quiet.from < quiet.to
                ? shown >= quiet.from && shown < quiet.to
                : shown >= quiet.from || shown < quiet.to;
          expect(isQuiet).toBe(false);
        },
      ),
      { numRuns: 2_000 },
    );
  });
});
