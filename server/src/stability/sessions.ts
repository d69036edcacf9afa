import { movedBack } from '@rough-ember/core/report/mend/arrival-time';
import type { Report } from '@rough-ember/core/report/report';
import type { SessionState } from '@rough-ember/core/report/session';
import type { RequestCounts, ScreenVisits } from '@rough-ember/core/report/session-activity';
import type { TrailEvent } from '@rough-ember/core/report/trail';
import type { Scope } from '@rough-ember/core/scope/scope';
import { parseDay } from '@rough-ember/core/session-index/person-day';
import { SessionIndex } from '@rough-ember/core/session-index/session-index';
import { sessionTest } from '@rough-ember/core/session-index/session-test';
import { type StoredSession, sumSessions } from '@rough-ember/core/session-index/sum-sessions';
import { spanOf } from '@rough-ember/core/session-index/window';
import { type Quartiles, quartilesOf } from '@rough-ember/core/stability/quartiles';
import type { App } from '@rough-ember/store/apps';
import { listFilterable } from '@rough-ember/store/filterable-attributes';
import {
  daysWithSessions,
  findSession,
  type ListedSession,
  listReportsOfSession,
  listSessionsOfDay,
  type SessionEnd,
  sessionEnds,
} from '@rough-ember/store/session-list';
import { listTrailEvents } from '@rough-ember/store/session-trails';
import { z } from 'zod';
import { ApiError } from '../errors.ts';
import type { Services } from '../services.ts';

/** A session as the screens show it. Times are ISO texts in UTC. */
export interface SessionItem {
  readonly id: string;
  readonly startedAt: string;
  /** What the device's clock was off by, in milliseconds, where it cannot be right; the times here are put right by it. */
  readonly clockErrorMs: number;
  readonly durationMs: number;
  readonly state: SessionState;
  readonly crashedAfterMs: number | null;
  readonly errors: number;
  readonly version: string;
  readonly system: string;
  readonly device: string;
  readonly country: string;
  readonly installationId: string | null;
}

export interface SessionList {
  readonly sessions: readonly SessionItem[];
  /** There are more, or there may be: so many were looked at. */
  readonly cut: boolean;
  readonly now: string;
}

export type { SessionEnd };
export const sessionsSchema = z.object({ end: z.enum(sessionEnds).default('any') });

const shown = 100;
const atOnce = 500;
const mostLooked = 10_000;

/** The newest sessions of a scope that went a certain way. */
export async function loadSessions(
  services: Pick<Services, 'database'>,
  query: { app: App; scope: Scope; end: SessionEnd; now: Date },
): Promise<SessionList> {
  const { sessions, cut } = await findSessions(services, { ...query, limit: shown });
  return { sessions: sessions.map(toItem), cut, now: query.now.toISOString() };
}

/** How far into a session it crashed, in milliseconds. */
export interface TimeToCrash {
  /** The newest sessions with a crash, as many as were looked at. */
  readonly sessions: number;
  /** There are more. */
  readonly cut: boolean;
  readonly afterMs: Quartiles | null;
}

const mostCrashed = 2_000;

/** How soon the sessions of a scope crash that do: of the newest ones whose items are still kept. */
export async function loadTimeToCrash(
  services: Pick<Services, 'database'>,
  query: { app: App; scope: Scope; now: Date },
): Promise<TimeToCrash> {
  const { sessions, cut } = await findSessions(services, { ...query, end: 'crashed', limit: mostCrashed });
  const after = sessions.flatMap(({ crashedAfterMs }) => (crashedAfterMs === null || crashedAfterMs < 0 ? [] : crashedAfterMs));
  return { sessions: after.length, cut, afterMs: quartilesOf(after) };
}

/** The newest sessions of a scope, at most `limit`; `cut` when there are more, or may be, since so many were looked at. */
async function findSessions(
  { database }: Pick<Services, 'database'>,
  { app, scope, end, now, limit }: { app: App; scope: Scope; end: SessionEnd; now: Date; limit: number },
): Promise<{ sessions: ListedSession[]; cut: boolean }> {
  const span = spanOf(scope, now.getTime());
  const filterable = new Set(await listFilterable(database, app.id));
  const found: ListedSession[] = [];
  let looked = 0;
  for (const day of await daysWithSessions(database, app.id, span.first, span.last)) {
    for (let offset = 0; found.length < limit && looked < mostLooked; offset += atOnce) {
      const some = await listSessionsOfDay(database, app.id, { day: parseDay(day), end, offset, limit: atOnce });
      looked += some.length;
      found.push(...within(some, scope, filterable));
      if (some.length < atOnce) break;
    }
    if (found.length >= limit || looked >= mostLooked) break;
  }
  return { sessions: found.slice(0, limit), cut: found.length > limit || looked >= mostLooked };
}

/** Those that lie in a scope, by the very test that counts them. */
export function within(sessions: readonly ListedSession[], scope: Scope, filterable: ReadonlySet<string>): ListedSession[] {
  const index = new SessionIndex();
  for (const one of sessions) for (const row of sumSessions([one], filterable)) index.add(row);
  const test = sessionTest(index, scope);
  return sessions.filter((_, row) => test(row));
}

const told = ({ values }: StoredSession, field: string): string => values.find(([name]) => name === field)?.[1] ?? '';

export function toItem(session: ListedSession): SessionItem {
  const { sessionId, startedAt, clockErrorMs, durationMs, state, crashedAfterMs, errors, installationId } = session;
  return {
    id: sessionId,
    startedAt: startedAt.toISOString(),
    clockErrorMs,
    durationMs,
    state,
    crashedAfterMs,
    errors,
    version: told(session, 'version'),
    system: [told(session, 'os.name'), told(session, 'os.version')].filter(Boolean).join(' '),
    device: told(session, 'device.model'),
    country: told(session, 'country'),
    installationId,
  };
}

/** Something in a session, by the second. */
export type SessionMoment = { readonly at: string } & (
  | { readonly type: 'start' | 'end' }
  | { readonly type: 'event'; readonly event: TrailEvent }
  | {
      readonly type: 'report';
      readonly kind: Report['kind'];
      readonly reportId: string;
      readonly ref: string | null;
      readonly what: string | null;
      readonly where: string | null;
    }
);

export interface SessionFile {
  readonly session: SessionItem;
  readonly flags: Readonly<Record<string, string>>;
  readonly attributes: Readonly<Record<string, unknown>>;
  /** How often it showed each screen, and how its requests went, as its last item told. */
  readonly screens: readonly ScreenVisits[];
  readonly requests: readonly Pick<RequestCounts, 'method' | 'host' | 'path' | 'count' | 'failed'>[];
  readonly moments: readonly SessionMoment[];
  /** A trail comes with reports, or as log records; of a session without either only its ends are known. */
  readonly hasTrail: boolean;
  readonly now: string;
}

/** One session with everything that is known to have happened in it, in order. */
export async function loadSession({ database }: Pick<Services, 'database'>, app: App, id: string, now: Date): Promise<SessionFile> {
  const found = /^[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}$/i.test(id) ? await findSession(database, app.id, id) : null;
  if (!found) throw new ApiError('not-found', `There is no session ${id.slice(0, 40)} of ${app.name}, or it is too old to be kept.`);
  const reports = await listReportsOfSession(database, app.id, id);
  const events = new Map<string, TrailEvent>();
  const moments: SessionMoment[] = [{ type: 'start', at: found.startedAt.toISOString() }];
  for (const { trail, occurredAt, kind, reportId, caseNumber, what, where } of reports) {
    // Reports of one session tell its trail again and again, each up to itself.
    for (const event of trail) events.set(JSON.stringify(event), event);
    const ref = caseNumber === null ? null : `${app.prefix}-${caseNumber}`;
    moments.push({ type: 'report', at: occurredAt.toISOString(), kind, reportId, ref, what, where });
  }
  for (const told of await listTrailEvents(database, app.id, id)) {
    const event = movedBack(told, found.clockErrorMs);
    events.set(JSON.stringify(event), event);
  }
  moments.push(...[...events.values()].map((event) => ({ type: 'event' as const, at: event.at, event })));
  if (found.state !== 'open') moments.push({ type: 'end', at: found.lastAt.toISOString() });
  const order = { start: 0, event: 1, report: 2, end: 3 } as const;
  moments.sort((a, b) => Date.parse(a.at) - Date.parse(b.at) || order[a.type] - order[b.type]);
  return {
    session: toItem(found),
    flags: found.flags,
    attributes: found.attributes,
    screens: found.screens,
    requests: found.requests.map(({ method, host, path, count, failed }) => ({ method, host, path, count, failed })),
    moments,
    hasTrail: events.size > 0,
    now: now.toISOString(),
  };
}
