import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Counts, noCounts } from '../session-index/tally.ts';
import { stabilityFigures } from './figures.ts';
import { checkRollout, type RolloutEvidence, rolloutConditionsSchema } from './rollout-check.ts';
import { sidesOfParts } from './sides.ts';
import { compareVersionSides, type VersionComparison } from './version-comparison.ts';

const conditions = rolloutConditionsSchema.parse({});
const counts = (sessions: number, crashed: number, crashedAtStart = 0): Counts => ({
  ...noCounts,
  sessions,
  crashed,
  crashedAtStart,
  persons: Math.ceil(sessions / 3),
  personsCrashed: crashed,
});
const comparedWith = (newer: ReturnType<typeof counts>, older: ReturnType<typeof counts>): VersionComparison => {
  const span = { first: 20_000, last: 20_006 };
  const sides = sidesOfParts({ hits: newer.crashed, count: newer.sessions }, { hits: older.crashed, count: older.sessions });
  return compareVersionSides(
    { version: '4.3.0', than: '4.2.0', reason: 'out-to-everybody', alignment: 'days', spans: { newer: span, older: span } },
    { sampling: 'everybody', sessions: sides, persons: sides, standardised: null },
  );
};
const evidence = (more: Partial<RolloutEvidence> = {}): RolloutEvidence => ({
  counts: counts(20_000, 100),
  comparison: comparedWith(more.counts ?? counts(20_000, 100), counts(30_000, 240)),
  newCases: [],
  missing: [],
  ...more,
});
const outcomes = (more: Partial<RolloutEvidence>) =>
  Object.fromEntries(checkRollout(conditions, evidence(more)).conditions.map((one) => [one.condition, one.outcome]));

describe('figures of sessions', () => {
  // Worked example of docs/calculations.md: 10,000 sessions of 2,500 people, 120 crashed, of 100 people.
  it('are those of the documentation', () => {
    const figures = stabilityFigures({ ...noCounts, sessions: 10_000, crashed: 120, hung: 30, persons: 2_500, personsCrashed: 100 });
    const percent = ({ value, low, high }: { value: number; low: number; high: number }) =>
      [value, low, high].map((one) => (100 * one).toFixed(2));
    expect(percent(figures.crashFreeSessions)).toEqual(['98.80', '98.57', '99.00']);
    expect(percent(figures.crashFreePersons)).toEqual(['96.00', '95.16', '96.70']);
    expect(figures.crashes.value).toBe(12);
    expect(figures.hangs.value).toBe(3);
    expect(stabilityFigures({ ...noCounts, sessions: 10_000, crashed: 120, hung: 30 }, { hangs: true, kills: false }).crashes.value).toBe(
      15,
    );
  });
  it('of three crashes in ten sessions are said to be few', () =>
    expect(stabilityFigures({ ...noCounts, sessions: 10, crashed: 3 })).toMatchObject({ few: true, crashFreeSessions: { value: 0.7 } }));
});

describe('a rollout', () => {
  it('may go on when every condition is met', () => expect(checkRollout(conditions, evidence()).verdict).toBe('go'));

  it('must not when one is not, whatever the others say', () => {
    const newCases = [{ ref: 'LG-8', title: 'NullPointerException in NightMap.tileFor', people: 21 }];
    expect(outcomes({ newCases })).toMatchObject({ 'new-cases': 'not-met', 'crash-free': 'met' });
    expect(checkRollout(conditions, evidence({ newCases, counts: counts(10, 0) })).verdict).toBe('stop');
    expect(outcomes({ missing: [{ file: 'mapping', reports: 7 }] })).toMatchObject({ symbols: 'too-early' });
    expect(outcomes({ counts: counts(20_000, 500) })).toMatchObject({ 'crash-free': 'not-met', 'not-worse': 'not-met' });
    expect(outcomes({ counts: counts(20_000, 150, 120) })).toMatchObject({ 'start-crashes': 'not-met' });
  });

  it('waits on a handful of sessions, and says how many more it takes', () => {
    const { verdict, conditions: checked } = checkRollout(conditions, evidence({ counts: counts(200, 2) }));
    expect(verdict).toBe('wait');
    const crashFree = checked.find((one) => one.condition === 'crash-free');
    expect(crashFree).toMatchObject({ outcome: 'too-early' });
    expect(crashFree?.condition === 'crash-free' && crashFree.more).toBeGreaterThan(1_000);
  });

  it('without a version before it is compared with nothing, and conditions can be left out', () => {
    expect(outcomes({ comparison: null })).toMatchObject({ 'not-worse': 'met' });
    const none = rolloutConditionsSchema.parse({
      sessions: null,
      crashFreePercent: null,
      startCrashesPerThousand: null,
      newCasePeople: null,
      symbols: false,
      notWorse: false,
    });
    expect(checkRollout(none, evidence())).toEqual({ verdict: 'go', conditions: [] });
  });

  it('is never both sure and unsure: more sessions of the same kind do not take an answer back', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1_000, max: 20_000 }), fc.nat(60), fc.integer({ min: 2, max: 20 }), (sessions, perThousand, times) => {
        const crashed = Math.round((perThousand * sessions) / 1_000);
        const comparison = null;
        const first = checkRollout(conditions, evidence({ comparison, counts: counts(sessions, crashed) })).verdict;
        const later = checkRollout(conditions, evidence({ comparison, counts: counts(sessions * times, crashed * times) })).verdict;
        if (first !== 'wait') expect(later).toBe(first);
      }),
    );
  });
});
