import { describe, expect, it } from 'vitest';
import { baselineOf, cameOutOn, type KnownVersion, spansOf } from './version-comparison.ts';

const out = { percent: 100, halted: false, since: '2026-11-02T08:00:00Z', note: '' };
const untold = { percent: null, halted: false, since: null, note: '' };
const known = (version: string, sessionsOfDays: readonly number[], more: Partial<KnownVersion> = {}): KnownVersion => ({
  version,
  sessionsOfDays,
  personsOfDays: sessionsOfDays.map((sessions) => Math.ceil(sessions / 3)),
  rollout: untold,
  firstStep: null,
  ...more,
});

describe('what a version is compared with', () => {
  const versions = [
    known('4.1.0', [900, 300, 100, 0], { rollout: out }),
    known('4.2.0', [0, 700, 800, 300], { rollout: out }),
    known('4.3.0-rc.1', [0, 0, 300, 0], { rollout: out }),
    known('4.3.0', [0, 0, 0, 700], { rollout: { percent: 20, halted: true, since: null, note: '' } }),
    known('4.3.1', [0, 0, 0, 100]),
  ];

  it('is the last one before it that was out to everybody, is no pre-release and was not halted', () => {
    expect(baselineOf('4.3.1', versions)).toEqual({ version: '4.2.0', reason: 'out-to-everybody' });
    expect(baselineOf('4.2.0', versions)).toEqual({ version: '4.1.0', reason: 'out-to-everybody' });
    expect(baselineOf('4.1.0', versions)).toBeNull();
  });

  it('has had enough sessions, and without a recorded rollout half of a day', () => {
    const few = [known('4.1.0', [900, 900, 900]), known('4.2.0', [0, 60, 60], { rollout: out }), known('4.3.0', [0, 0, 900])];
    expect(baselineOf('4.3.0', few)).toEqual({ version: '4.1.0', reason: 'out-to-everybody' });
  });

  it('is the most used one where none was out to everybody, and what somebody chose in any case', () => {
    const partly = [known('4.1.0', [300, 300]), known('4.2.0', [0, 100]), known('4.0.0', [250, 200]), known('4.3.0', [900, 900])];
    expect(baselineOf('4.3.0', partly)).toEqual({ version: '4.1.0', reason: 'most-used' });
    expect(baselineOf('4.3.1', versions, '4.1.0')).toEqual({ version: '4.1.0', reason: 'chosen' });
    // To choose what is usual is no choice.
    expect(baselineOf('4.3.1', versions, 'v4.2')).toEqual({ version: '4.2.0', reason: 'out-to-everybody' });
  });
});

describe('the days that are compared', () => {
  it('begin when several people had it, or a step was recorded: one phone with a wrong clock moves nothing', () => {
    const early = known('4.3.1', [1, 0, 0, 40, 90], { personsOfDays: [1, 0, 0, 12, 40] });
    expect(cameOutOn(early, 100)).toBe(103);
    expect(cameOutOn({ ...early, firstStep: 102 }, 100)).toBe(102);
    expect(cameOutOn(known('4.3.1', [0, 0, 3], { personsOfDays: [0, 0, 1] }), 100)).toBe(102);
    expect(cameOutOn(known('4.3.1', [0, 0]), 100)).toBeNull();
  });

  it('are the same for both, or those since each one came out', () => {
    const [newer, older] = [{ cameOut: 110 }, { cameOut: 80 }];
    expect(spansOf(newer, older, { alignment: 'days', today: 114, longest: 60 })).toEqual({
      newer: { first: 110, last: 114 },
      older: { first: 110, last: 114 },
    });
    expect(spansOf(newer, older, { alignment: 'release', today: 114, longest: 60 }).older).toEqual({ first: 80, last: 84 });
    expect(spansOf(newer, older, { alignment: 'release', today: 114, longest: 3 })).toEqual({
      newer: { first: 112, last: 114 },
      older: { first: 82, last: 84 },
    });
  });
});
