import type { ReportKind } from '../report/report-kinds.ts';
import type { Counts } from '../session-index/tally.ts';
import type { Part } from './difference.ts';
import { type Estimate, shareOf } from './share.ts';

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
export function freeOf({ hits, count }: Part): Estimate {
  return shareOf(count - hits, count);
}

/** A part as so many in a thousand, with its interval. */
export function perThousand({ hits, count }: Part): Estimate {
  const { value, low, high } = shareOf(hits, count);
  return { value: 1_000 * value, low: 1_000 * low, high: 1_000 * high };
}

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
  const { sessions, persons, newPersons, personsCrashed } = counts;
  const bad = badSessions(counts, badEnds);
  const rate = (hits: number) => perThousand({ hits, count: sessions });
  return {
    sessions,
    persons,
    newPersons,
    crashed: bad.hits,
    personsCrashed,
    crashFreeSessions: freeOf(bad),
    crashFreePersons: freeOf(badPersons(counts)),
    crashes: perThousand(bad),
    hangs: rate(counts.hung),
    kills: rate(counts.killed),
    crashesAtStart: rate(counts.crashedAtStart),
    errors: rate(counts.withErrors),
    few: sessions < enoughSessions,
  };
}
