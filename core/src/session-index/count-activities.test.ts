import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { durationBucket, durationOfBucket, type RequestCounts, requestCountsSchema, requestName } from '../report/session-activity.ts';
import { wholeScope } from '../scope/scope.ts';
import { compareSides } from '../stability/comparison.ts';
import { badVisits, perThousand } from '../stability/figures.ts';
import { sidesOfParts } from '../stability/sides.ts';
import { countRequests, countScreens } from './count-activities.ts';
import { decodeDay, encodeDay } from './day-block.ts';
import { SessionIndex } from './session-index.ts';
import { type StoredSession, sumSessions } from './sum-sessions.ts';

const span = { first: 100, last: 103 };

/** A session that tells nothing but that it was. */
const quiet: StoredSession = {
  countedKey: Uint8Array.of(0, 0, 0, 0, 0, 0, 0, 0, 1, 2, 3, 4, 5, 6, 7, 8),
  isKnown: true,
  day: 101,
  excluded: false,
  inferred: false,
  state: 'ended',
  crashedAfterMs: null,
  errors: 0,
  values: [],
  flags: {},
  attributes: {},
  screens: [],
  requests: [],
};

const anySession: fc.Arbitrary<StoredSession> = fc
  .record({
    person: fc.nat(6),
    isKnown: fc.boolean(),
    day: fc.integer({ min: 99, max: 104 }),
    version: fc.constantFrom('4.2.0', '4.10.0'),
    screens: fc.array(fc.record({ name: fc.constantFrom('home', 'map', 'song'), visits: fc.integer({ min: 1, max: 4 }) }), {
      maxLength: 4,
    }),
    requests: fc.array(
      fc
        .record({
          path: fc.constantFrom('/tiles/7', '/tiles/12', '/species'),
          untimed: fc.nat(2),
          failed: fc.nat(1),
          durations: fc.uniqueArray(fc.record({ bucket: fc.integer({ min: 40, max: 44 }), count: fc.integer({ min: 1, max: 3 }) }), {
            selector: (one) => one.bucket,
            maxLength: 3,
          }),
        })
        .map(({ path, untimed, failed, durations }): RequestCounts => {
          const count = Math.max(1, untimed + durations.reduce((sum, one) => sum + one.count, 0));
          return { method: 'GET', host: 'tiles.larkfield.example', path, count, failed, durations };
        }),
      { maxLength: 3 },
    ),
  })
  .map(({ person, isKnown, day, version, screens, requests }) => ({
    ...quiet,
    countedKey: Uint8Array.of(0, 0, 0, 0, 0, 0, 0, 0, isKnown ? 1 : 2, 0, 0, 0, person, 7, 0, 200),
    isKnown,
    day,
    values: [['version', version]],
    screens,
    requests,
  }));

/** The sessions of each person and day summed, as they are in memory; kept and read back in between, or put in order. */
function indexOf(sessions: readonly StoredSession[], how: 'added' | 'in order' | 'kept'): SessionIndex {
  const index = new SessionIndex();
  for (const row of sumSessions(sessions, new Set())) index.add(row);
  if (how === 'in order') index.settle();
  if (how !== 'kept') return index;
  const again = new SessionIndex();
  for (const day of new Set(sessions.map((one) => one.day))) {
    const read = decodeDay(encodeDay(index.blockOfDay(day)));
    if (!read.ok) throw new Error(read.problem.message);
    again.addBlock(read.value);
  }
  return again;
}

const sum = (numbers: readonly number[]) => numbers.reduce((total, number) => total + number, 0);
const personsOf = (sessions: readonly StoredSession[]) =>
  new Set(sessions.filter((one) => one.isKnown).map((one) => one.countedKey[12])).size;

describe('what sessions did', () => {
  const drawn = [fc.array(anySession, { maxLength: 40 }), fc.constantFrom('added' as const, 'in order' as const, 'kept' as const)] as const;

  it('on each screen is counted as one who looks at every session', () => {
    fc.assert(
      fc.property(...drawn, (sessions, how) => {
        const inSpan = sessions.filter((one) => one.day >= span.first && one.day <= span.last);
        const { screens, versions } = countScreens(indexOf(sessions, how), wholeScope, span);
        const visits = (of: readonly StoredSession[], name: string) =>
          sum(of.flatMap((one) => one.screens.filter((screen) => screen.name === name).map((screen) => screen.visits)));
        const expected = ['home', 'map', 'song'].map((screen) => {
          const seen = inSpan.filter((one) => visits([one], screen) > 0);
          return { screen, visits: visits(seen, screen), sessions: seen.length, persons: personsOf(seen) };
        });
        const byName = (a: { screen: string }, b: { screen: string }) => a.screen.localeCompare(b.screen);
        expect(screens.map(({ visitsOfVersions: _, ...rest }) => rest).sort(byName)).toEqual(expected.filter((one) => one.visits > 0));
        expect(versions).toEqual(
          ['4.2.0', '4.10.0'].filter((version) => inSpan.some((one) => one.values[0]?.[1] === version && one.screens.length > 0)),
        );
        for (const { screen, visitsOfVersions } of screens)
          expect(visitsOfVersions).toEqual(
            versions.map((version) =>
              visits(
                inSpan.filter((one) => one.values[0]?.[1] === version),
                screen,
              ),
            ),
          );
      }),
    );
  });

  it('as requests is counted by what they ask for, whatever number stands in the path', () => {
    fc.assert(
      fc.property(...drawn, (sessions, how) => {
        const inSpan = sessions.filter((one) => one.day >= span.first && one.day <= span.last);
        const { requests } = countRequests(indexOf(sessions, how), wholeScope, span);
        for (const name of ['GET tiles.larkfield.example/tiles/{number}', 'GET tiles.larkfield.example/species']) {
          const own = inSpan.flatMap((one) => one.requests.filter((request) => requestName(request) === name));
          const durations = own
            .flatMap((one) => one.durations.flatMap(({ bucket, count }) => Array<number>(count).fill(bucket)))
            .sort((a, b) => a - b);
          const at = (share: number) => durations[Math.ceil(share * durations.length) - 1];
          const told = (bucket: number | undefined) => (bucket === undefined ? null : durationOfBucket(bucket));
          const found = requests.find((one) => one.request === name);
          if (own.length === 0) expect(found).toBeUndefined();
          else
            expect(found).toEqual({
              request: name,
              count: sum(own.map((one) => one.count)),
              failed: sum(own.map((one) => one.failed)),
              persons: personsOf(inSpan.filter((one) => one.requests.some((request) => requestName(request) === name))),
              timed: durations.length,
              medianMs: told(at(0.5)),
              p95Ms: told(at(0.95)),
            });
        }
      }),
    );
  });

  it('goes with the rows of a person and day when these are summed again', () => {
    const visit = (name: string): StoredSession => ({ ...quiet, screens: [{ name, visits: 2 }] });
    const index = indexOf([visit('home')], 'in order');
    const before = visit('map');
    index.replace(before.countedKey.subarray(8), 101, sumSessions([before, before], new Set()));
    expect(countScreens(index, wholeScope, span).screens).toMatchObject([{ screen: 'map', visits: 4, sessions: 2, persons: 1 }]);
    index.settle();
    expect(countScreens(index, wholeScope, span).screens).toMatchObject([{ screen: 'map', visits: 4, sessions: 2, persons: 1 }]);
  });

  it('with names that somebody makes up by the thousand fills no memory', () => {
    const index = new SessionIndex();
    const screens = Array.from({ length: 30_000 }, (_, at) => ({ name: `made up ${at}`, visits: 1 }));
    for (const row of sumSessions([{ ...quiet, screens }], new Set())) index.add(row);
    const counted = countScreens(index, wholeScope, span).screens;
    expect(counted).toHaveLength(20_001);
    expect(counted[0]).toMatchObject({ screen: '\u2026', visits: 10_000 });
  });
});

describe('the duration of a request', () => {
  it('is told back within 4.5 %, for any of more than a millisecond', () => {
    fc.assert(
      fc.property(fc.double({ min: 1.1, max: 2 ** 29, noNaN: true }), (ms) => {
        expect(Math.abs(durationOfBucket(durationBucket(ms)) / ms - 1)).toBeLessThan(0.045);
      }),
    );
  });

  it('lies in the first bucket when it is shorter, and in the last when it is longer than that', () => {
    expect([0, 0.3, 1, 1.09].map(durationBucket)).toEqual([0, 0, 0, 0]);
    expect(durationBucket(2 ** 40)).toBe(239);
  });

  it('is not told of more requests than there were', () => {
    const request = { method: 'GET', host: 'a.example', path: '/', count: 2, durations: [{ bucket: 40, count: 3 }] };
    expect(requestCountsSchema.safeParse(request).error?.issues[0]?.message).toContain('than there were');
    expect(requestCountsSchema.safeParse({ ...request, durations: [], failed: 3 }).success).toBe(false);
  });
});

// Worked examples of docs/calculations.md.
it('half of 11 requests of 175 ms and one of 8 s took at most 173 ms, 95 % at most 7.8 s', () => {
  const durations = [...Array<number>(11).fill(175), 8_000].map(durationBucket);
  expect(new Set(durations)).toEqual(new Set([59, 103]));
  const index = new SessionIndex();
  const request = { method: 'get', host: 'Tiles.larkfield.example', path: '/t/7?of=day', count: 12, failed: 1 };
  for (const row of sumSessions(
    [{ ...quiet, requests: [{ ...request, durations: durations.map((bucket) => ({ bucket, count: 1 })) }] }],
    new Set(),
  ))
    index.add(row);
  const [found] = countRequests(index, wholeScope, span).requests;
  expect(found).toMatchObject({ request: 'GET tiles.larkfield.example/t/{number}', count: 12, failed: 1, timed: 12 });
  expect(Math.round(found?.medianMs ?? 0)).toBe(173);
  expect(((found?.p95Ms ?? 0) / 1_000).toFixed(1)).toBe('7.8');
});

it('57 reports in 1,000 visits, where others have 30 in 60,000, are surely more', () => {
  const own = badVisits({ visits: 1_000, reports: 57 });
  const { value, low, high } = perThousand(own);
  expect([value, low, high].map((rate) => rate.toFixed(1))).toEqual(['57.0', '44.3', '73.1']);
  expect(compareSides(sidesOfParts(own, badVisits({ visits: 60_000, reports: 30 }))).verdict).toBe('worse');
});
