import type { ReportKind } from '../report/report-kinds.ts';
import type { Counts, Effects } from '../session-index/tally.ts';
import { shareOfSessions } from './session-rate.ts';
import type { Estimate } from './share.ts';
import type { Part } from './sides.ts';

/** What counts against a session, beside a crash. */
export interface BadEnds {
  readonly hangs: boolean;
  readonly kills: boolean;
}
export const onlyCrashes: BadEnds = { hangs: false, kills: false };

/** The kinds of reports that count against a session. */
export const kindsOfEnds = ({ hangs, kills }: BadEnds): ReportKind[] => [
  'crash',
  ...(hangs ? ['hang' as const] : []),
  ...(kills ? ['kill' as const] : []),
];

/** Sessions that ended badly, of all. Handled errors never count. */
export const badSessions = (
  counts: Pick<Counts, 'sessions' | 'crashed' | 'hung' | 'killed'>,
  { hangs, kills }: BadEnds = onlyCrashes,
): Part => ({
  hits: counts.crashed + (hangs ? counts.hung : 0) + (kills ? counts.killed : 0),
  count: counts.sessions,
});

/** Persons with a session that crashed, of all with a session. */
export const badPersons = (counts: Counts): Part => ({ hits: counts.personsCrashed, count: counts.persons });

/** What went wrong on a screen, of its visits. A report may be of a visit whose session never arrived. */
export const badVisits = ({ visits, reports }: { readonly visits: number; readonly reports: number }): Part => ({
  hits: reports,
  count: Math.max(visits, reports),
});

/** The share of a whole that is not in a part, with its interval. */
const freeOf = ({ hits, count }: Part, effect = 1): Estimate => shareOfSessions({ hits: count - hits, count }, effect);

/** A part as so many in a thousand, with its interval; `effect` is the design effect where what is counted comes by persons. */
export function perThousand(part: Part, effect = 1): Estimate {
  const { value, low, high } = shareOfSessions(part, effect);
  return { value: 1_000 * value, low: 1_000 * low, high: 1_000 * high };
}

/** Sessions without a bad end, with the interval that holds though a person's sessions are alike. */
export const freeSessions = (counts: Counts, badEnds: BadEnds = onlyCrashes): Estimate =>
  freeOf(badSessions(counts, badEnds), counts.effects.bad);

/** Bad ends for 1,000 sessions, likewise. `counts` must be counted for these bad ends. */
export const badRate = (counts: Counts, badEnds: BadEnds = onlyCrashes): Estimate =>
  perThousand(badSessions(counts, badEnds), counts.effects.bad);

/** Below this many sessions a rate says so little that it is not shown without saying so. */
export const enoughSessions = 200;

/** Every figure of a number of sessions; rates are for 1,000 sessions. */
export interface StabilityFigures {
  readonly sessions: number;
  readonly persons: number;
  readonly newPersons: number;
  readonly crashed: number;
  readonly personsCrashed: number;
  readonly crashFreeSessions: Estimate;
  readonly crashFreePersons: Estimate;
  readonly crashes: Estimate;
  readonly hangs: Estimate;
  readonly kills: Estimate;
  readonly crashesAtStart: Estimate;
  /** Sessions with a handled error. */
  readonly errors: Estimate;
  /** There are too few sessions to say much. */
  readonly few: boolean;
}

export function stabilityFigures(counts: Counts, badEnds: BadEnds = onlyCrashes): StabilityFigures {
  const { sessions, persons, newPersons, personsCrashed, effects } = counts;
  const rate = (name: Exclude<keyof Effects, 'bad'>) => perThousand({ hits: counts[name], count: sessions }, effects[name]);
  return {
    sessions,
    persons,
    newPersons,
    crashed: badSessions(counts, badEnds).hits,
    personsCrashed,
    crashFreeSessions: freeSessions(counts, badEnds),
    crashFreePersons: freeOf(badPersons(counts)),
    crashes: badRate(counts, badEnds),
    hangs: rate('hung'),
    kills: rate('killed'),
    crashesAtStart: rate('crashedAtStart'),
    errors: rate('withErrors'),
    few: sessions < enoughSessions,
  };
}
