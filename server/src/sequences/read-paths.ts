import { movedBack } from '@rough-ember/core/report/mend/arrival-time';
import type { Scope } from '@rough-ember/core/scope/scope';
import type { WeighedPath } from '@rough-ember/core/sequences/funnel';
import { type PathEnd, pathEnds, stepsOf } from '@rough-ember/core/sequences/session-path';
import type { Day } from '@rough-ember/core/session-index/person-day';
import type { Database } from '@rough-ember/store/database';
import { listFilterable } from '@rough-ember/store/filterable-attributes';
import { drawSessionsOfDay, type ListedSession, listReportsOfSessions, type SessionChoice } from '@rough-ember/store/session-list';
import { listTrailsOfSessions } from '@rough-ember/store/session-trails';
import { within } from '../stability/sessions.ts';

/** How many sessions of a scope ended in each way; those that are looked at stand for them. */
export type Totals = Readonly<Record<PathEnd, number>>;
export const noTotals: Totals = { crashed: 0, hung: 0, killed: 0, ended: 0 };

export interface DayTotals {
  readonly day: Day;
  readonly totals: Totals;
}

/** A session with its way. */
export interface LookedSession extends WeighedPath {
  readonly day: Day;
  readonly session: ListedSession;
}

/** Sessions of a scope with what they did, and how many of each end were looked at. */
export interface ReadPaths {
  readonly paths: readonly LookedSession[];
  readonly looked: Totals;
  /** There may be more that tell what they did than were looked at. */
  readonly cut: boolean;
}

const sumOf = (days: readonly DayTotals[], ends: readonly PathEnd[]): number =>
  days.reduce((sum, { totals }) => sum + ends.reduce((all, end) => all + totals[end], 0), 0);

/**
 * Reads the ways of sessions of a scope, drawn by chance, of each day as many as are its due of `look` that ended badly and as many
 * others. Of one that ended badly its reports tell the trail; of the others those are read that told it themselves, which are drawn by
 * chance too. Each stands for as many of its day as ended like it.
 */
export async function readPaths(
  database: Database,
  { appId, scope, days, look }: { appId: number; scope: Scope; days: readonly DayTotals[]; look: number },
): Promise<ReadPaths> {
  const filterable = new Set(await listFilterable(database, appId));
  const wanted = groups.flatMap(({ choice, ends }) => {
    const all = sumOf(days, ends);
    return days.flatMap((one) => {
      const own = sumOf([one], ends);
      return own === 0 ? [] : [{ day: one.day, choice, limit: Math.ceil((look * own) / Math.max(look, all)) }];
    });
  });
  const drawn = await inBatches(wanted, atOnce.days, async (some) =>
    Promise.all(some.map((one) => drawSessions(database, { appId, scope, filterable, ...one }))),
  );
  const sessions = drawn.flatMap(({ day, sessions }) => sessions.map((session) => ({ day, session })));
  const told = await inBatches(sessions, atOnce.paths, (some) => readSome(database, appId, some));
  const cut = drawn.some((one) => one.cut);
  const paths = weighed(
    told.filter(({ steps }) => steps.length > 0),
    days,
  );
  return { paths, looked: countEnds(paths), cut };
}

const groups: readonly { readonly choice: SessionChoice; readonly ends: readonly PathEnd[] }[] = [
  { choice: 'ended-badly', ends: ['crashed', 'hung', 'killed'] },
  { choice: 'told-trail', ends: ['ended'] },
];

/** A thread has four connections. */
const atOnce = { days: 4, paths: 100, sessions: 200 } as const;

async function inBatches<Item, Made>(
  items: readonly Item[],
  size: number,
  make: (some: readonly Item[]) => Promise<Made[]>,
): Promise<Made[]> {
  const made: Made[] = [];
  for (let at = 0; at < items.length; at += size) made.push(...(await make(items.slice(at, at + size))));
  return made;
}

/** Of a narrow scope so many sessions are looked through for each that is wanted. */
const mostForOne = 20;

interface Wanted {
  readonly day: Day;
  readonly choice: SessionChoice;
  readonly limit: number;
}

async function drawSessions(
  database: Database,
  query: Wanted & { appId: number; scope: Scope; filterable: ReadonlySet<string> },
): Promise<{ day: Day; sessions: ListedSession[]; cut: boolean }> {
  const { appId, scope, filterable, day, choice, limit } = query;
  const found: ListedSession[] = [];
  const page = Math.min(atOnce.sessions, Math.ceil(1.2 * limit) + 5);
  let behind: string | null = null;
  for (let looked = 0; looked < Math.max(atOnce.sessions, mostForOne * limit); looked += page) {
    const some: ListedSession[] = await drawSessionsOfDay(database, appId, { day, choice, behind, limit: page });
    found.push(...within(some, scope, filterable));
    if (some.length < page && found.length <= limit) return { day, sessions: found, cut: false };
    if (found.length >= limit) break;
    behind = some.at(-1)?.sessionId ?? null;
  }
  return { day, sessions: found.slice(0, limit), cut: true };
}

type Drawn = Pick<LookedSession, 'day' | 'session'>;

async function readSome(database: Database, appId: number, drawn: readonly Drawn[]): Promise<LookedSession[]> {
  const ids = drawn.map(({ session }) => session.sessionId);
  const [reports, trails] = await Promise.all([listReportsOfSessions(database, appId, ids), listTrailsOfSessions(database, appId, ids)]);
  return drawn.map(({ day, session }): LookedSession => {
    const { sessionId, startedAt, clockErrorMs, state, countedKey } = session;
    const own = (trails.get(sessionId) ?? []).map((event) => movedBack(event, clockErrorMs));
    const ofSession = reports.filter((one) => one.sessionId === sessionId);
    const events = [...own, ...ofSession.flatMap(({ trail }) => trail)];
    const told = ofSession.map(({ kind, occurredAt }) => ({ kind, atMs: occurredAt.getTime() }));
    return {
      day,
      session,
      person: Buffer.from(countedKey).toString('latin1'),
      weight: 1,
      end: state === 'open' ? 'ended' : state,
      steps: stepsOf(startedAt.getTime(), events, told),
    };
  });
}

function countEnds(paths: readonly LookedSession[]): Totals {
  const counts = { ...noTotals };
  for (const { end } of paths) counts[end]++;
  return counts;
}

/** Each with as many sessions as it stands for: of its day and end, and of the days of which none was looked at. */
function weighed(paths: readonly LookedSession[], days: readonly DayTotals[]): LookedSession[] {
  const looked = new Map<string, number>();
  const nameOf = (day: Day, end: PathEnd) => `${day} ${end}`;
  for (const { day, end } of paths) looked.set(nameOf(day, end), (looked.get(nameOf(day, end)) ?? 0) + 1);
  const totals = new Map(days.flatMap(({ day, totals }) => pathEnds.map((end) => [nameOf(day, end), totals[end]] as const)));
  const timesOf = (end: PathEnd) => {
    const seen = days.filter(({ day }) => looked.has(nameOf(day, end)));
    return sumOf(days, [end]) / Math.max(1, sumOf(seen, [end]));
  };
  const times = { crashed: timesOf('crashed'), hung: timesOf('hung'), killed: timesOf('killed'), ended: timesOf('ended') };
  return paths.map((path) => {
    const name = nameOf(path.day, path.end);
    const own = (totals.get(name) ?? 0) / (looked.get(name) ?? 1);
    return { ...path, weight: Math.max(1, own * times[path.end]) };
  });
}
