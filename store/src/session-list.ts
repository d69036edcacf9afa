import type { ReportKind } from '@rough-ember/core/report/report-kinds';
import type { SessionState } from '@rough-ember/core/report/session';
import type { TrailEvent } from '@rough-ember/core/report/trail';
import { type Day, printDay } from '@rough-ember/core/session-index/person-day';
import type { StoredSession } from '@rough-ember/core/session-index/sum-sessions';
import type { Database } from './database.ts';
import { beganAt, type SessionRow, sessionColumns, toStoredSession } from './session-feed.ts';
import { uuidBytes, uuidText } from './uuid.ts';

/** How a session ended or went, to look for such ones. */
export const sessionEnds = ['any', 'crashed', 'crashed-at-start', 'hung', 'killed', 'errors', 'long', 'short'] as const;
export type SessionEnd = (typeof sessionEnds)[number];

/** A session as a list shows it. */
export interface ListedSession extends StoredSession {
  readonly sessionId: string;
  readonly startedAt: Date;
  /** What the device's clock was off by when it told of it, in milliseconds; 0 where it may be right. */
  readonly clockErrorMs: number;
  readonly durationMs: number;
  readonly installationId: string | null;
}

const longMs = 30 * 60_000;
const shortMs = 10_000;

/** What sequences look at beside: sessions whose trail their reports tell, and those that told it themselves. */
export type SessionChoice = SessionEnd | 'ended-badly' | 'told-trail';

const endedBadly = "state IN ('crashed', 'hung', 'killed')";

const conditions: Readonly<Record<SessionChoice, string>> = {
  any: '1',
  crashed: "state = 'crashed'",
  'crashed-at-start': "state = 'crashed' AND crashed_at >= started_at AND crashed_at < started_at + INTERVAL 5 SECOND",
  hung: "state = 'hung'",
  killed: "state = 'killed'",
  errors: 'errors > 0',
  long: `duration_ms >= ${longMs}`,
  short: `duration_ms > 0 AND duration_ms < ${shortMs}`,
  'ended-badly': endedBadly,
  'told-trail': `NOT ${endedBadly} AND EXISTS (
    SELECT 1 FROM session_trails WHERE session_trails.app_id = sessions.app_id AND session_trails.session_id = sessions.session_id)`,
};

type ListedRow = SessionRow & {
  sessionId: Buffer;
  startedAt: Date;
  clockErrorMs: number;
  durationMs: number;
  installationId: Buffer | null;
};

const columns = `${sessionColumns}, session_id AS sessionId, ${beganAt} AS startedAt,
  TIMESTAMPDIFF(MICROSECOND, ${beganAt}, started_at) DIV 1000 AS clockErrorMs, duration_ms AS durationMs, installation_id AS installationId`;

const toListed = (row: ListedRow): ListedSession => ({
  ...toStoredSession(row),
  sessionId: uuidText(row.sessionId),
  startedAt: row.startedAt,
  clockErrorMs: Number(row.clockErrorMs),
  durationMs: row.durationMs,
  installationId: row.installationId && uuidText(row.installationId),
});

/** Sessions of a day that went a certain way, the newest first. */
export async function listSessionsOfDay(
  database: Database,
  appId: number,
  { day, end, offset, limit }: { day: Day; end: SessionEnd; offset: number; limit: number },
): Promise<ListedSession[]> {
  const [rows] = (await database.raw(
    `SELECT ${columns} FROM sessions WHERE app_id = ? AND day = ? AND started AND ${conditions[end]} ORDER BY ${beganAt} DESC, session_id LIMIT ? OFFSET ?`,
    [appId, printDay(day), limit, offset],
  )) as [ListedRow[]];
  return rows.map(toListed);
}

/**
 * Sessions of a day behind one of them, by their ids: these are made by chance, so the first so many are a sample of the day, and the
 * index that finds the day has them in this order.
 */
export async function drawSessionsOfDay(
  database: Database,
  appId: number,
  { day, choice, behind, limit }: { day: Day; choice: SessionChoice; behind: string | null; limit: number },
): Promise<ListedSession[]> {
  const [rows] = (await database.raw(
    `SELECT ${columns} FROM sessions WHERE app_id = ? AND day = ? AND session_id > ? AND started AND ${conditions[choice]} ORDER BY session_id LIMIT ?`,
    [appId, printDay(day), behind === null ? Buffer.alloc(0) : uuidBytes(behind), limit],
  )) as [ListedRow[]];
  return rows.map(toListed);
}

/** The days of a span that have sessions, the newest first. */
export async function daysWithSessions(database: Database, appId: number, first: Day, last: Day): Promise<string[]> {
  return database('sessions')
    .where({ app_id: appId })
    .whereBetween('day', [printDay(Math.max(0, first)), printDay(Math.min(last, 65_535))])
    .distinct('day')
    .orderBy('day', 'desc')
    .pluck('day');
}

/** One session, with how its last item left it; null when there is none. */
export async function findSession(
  database: Database,
  appId: number,
  sessionId: string,
): Promise<(ListedSession & { readonly lastAt: Date; readonly state: SessionState }) | null> {
  const [rows] = (await database.raw(`SELECT ${columns}, last_at AS lastAt FROM sessions WHERE app_id = ? AND session_id = ?`, [
    appId,
    uuidBytes(sessionId),
  ])) as [(ListedRow & { lastAt: Date })[]];
  const [row] = rows;
  if (!row) return null;
  const listed = toListed(row);
  return { ...listed, lastAt: new Date(row.lastAt.getTime() - listed.clockErrorMs) };
}

/** A report of a session, with the trail that it told. */
export interface SessionReport {
  readonly reportId: string;
  readonly kind: ReportKind;
  readonly occurredAt: Date;
  readonly caseNumber: number | null;
  readonly what: string | null;
  readonly where: string | null;
  readonly trail: readonly TrailEvent[];
}

/** The reports of a session, the oldest first. */
export async function listReportsOfSession(database: Database, appId: number, sessionId: string): Promise<SessionReport[]> {
  const rows: (Omit<SessionReport, 'reportId' | 'trail'> & { reportId: Buffer; trail: string | null })[] = await database('reports')
    .join('report_bodies', 'report_bodies.report_row', 'reports.id')
    .leftJoin('cases', 'cases.id', 'reports.case_id')
    .where({ 'reports.app_id': appId, session_id: uuidBytes(sessionId) })
    .orderBy('occurred_at')
    .limit(100)
    .select({
      reportId: 'report_id',
      kind: 'reports.kind',
      occurredAt: 'occurred_at',
      caseNumber: 'cases.number',
      what: 'cases.what',
      where: 'cases.where_text',
      // The rest of a body may be of megabytes.
      trail: database.raw(trailOfBody),
    });
  return rows.map(({ reportId, trail, ...row }) => ({ ...row, reportId: uuidText(reportId), trail: readTrail(trail) }));
}

const trailOfBody = "CAST(JSON_QUERY(body, '$.trail') AS CHAR)";
const readTrail = (text: string | null): TrailEvent[] => (text === null ? [] : (JSON.parse(text) as TrailEvent[]));

/** What a report tells of its session's way. */
export type ReportOnTheWay = Pick<SessionReport, 'kind' | 'occurredAt' | 'trail'> & { readonly sessionId: string };

const mostReportsEach = 20;

/** The reports of some sessions with their trails, at most `mostReportsEach` for a session on average. */
export async function listReportsOfSessions(database: Database, appId: number, sessionIds: readonly string[]): Promise<ReportOnTheWay[]> {
  const rows: { sessionId: Buffer; kind: ReportKind; occurredAt: Date; trail: string | null }[] = await database('reports')
    .join('report_bodies', 'report_bodies.report_row', 'reports.id')
    .where({ 'reports.app_id': appId })
    .whereIn('session_id', sessionIds.map(uuidBytes))
    .limit(mostReportsEach * sessionIds.length)
    .select({ sessionId: 'session_id', kind: 'reports.kind', occurredAt: 'occurred_at', trail: database.raw(trailOfBody) });
  return rows.map(({ sessionId, trail, ...row }) => ({ ...row, sessionId: uuidText(sessionId), trail: readTrail(trail) }));
}
