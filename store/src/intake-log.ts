import { hourMs } from '@rough-ember/core/durations';
import type { Knex } from 'knex';
import type { Database } from './database.ts';
import type { IntakeOutcome, LoggedLine } from './intake-outcomes.ts';
import { loggedLinesForm } from './stored-forms.ts';
import { readStored, StoredJsonProblem, writeStored } from './stored-json.ts';
import { uuidBytes, uuidText } from './uuid.ts';

/** One request as the intake log tells it. */
export interface IntakeEntry {
  readonly id: number;
  readonly at: Date;
  /** Null when the key belongs to no app. */
  readonly appId: number | null;
  readonly keyName: string | null;
  readonly client: string | null;
  readonly what: string;
  readonly status: number;
  readonly accepted: number;
  readonly duplicates: number;
  readonly excluded: number;
  readonly sampledOut: number;
  readonly passedOver: number;
  readonly refused: number;
  /** Items that were taken, but not as they came. */
  readonly remarked: number;
  readonly reason: string | null;
  readonly remedy: string | null;
  /** The first report of the request that was accepted. */
  readonly reportId: string | null;
  readonly lines: readonly LoggedLine[];
}

const countColumns = {
  accepted: 'accepted',
  duplicate: 'duplicates',
  excluded: 'excluded',
  'sampled-out': 'sampled_out',
  'passed-over': 'passed_over',
  refused: 'refused',
} as const satisfies Record<IntakeOutcome, string>;

export async function writeIntakeLog(
  database: Database,
  entry: Omit<IntakeEntry, 'id' | 'at'> & { readonly keyId?: number | null },
): Promise<void> {
  await database('intake_log').insert({
    app_id: entry.appId,
    key_id: entry.keyId ?? null,
    key_name: entry.keyName,
    client: entry.client?.slice(0, 200) ?? null,
    what: entry.what.slice(0, 300),
    status: entry.status,
    accepted: entry.accepted,
    duplicates: entry.duplicates,
    excluded: entry.excluded,
    sampled_out: entry.sampledOut,
    passed_over: entry.passedOver,
    remarked: entry.remarked,
    refused: entry.refused,
    reason: entry.reason?.slice(0, 1000) ?? null,
    remedy: entry.remedy?.slice(0, 500) ?? null,
    report_id: entry.reportId === null ? null : uuidBytes(entry.reportId),
    details: entry.lines.length > 0 ? writeStored(loggedLinesForm, [...entry.lines]) : null,
  });
}

export interface IntakeLogQuery {
  readonly appId: number;
  /** Also requests whose key belongs to no app. */
  readonly strangers: boolean;
  readonly limit: number;
  /** Only requests with an item of this outcome, or with one that was not taken as it came. */
  readonly outcome?: IntakeOutcome | 'remarked' | undefined;
  /** Only requests before this one. */
  readonly before?: number | undefined;
}

const ofApp = (query: Knex.QueryBuilder, { appId, strangers }: Pick<IntakeLogQuery, 'appId' | 'strangers'>): Knex.QueryBuilder =>
  query.where((either) => {
    either.where({ app_id: appId });
    if (strangers) either.orWhereNull('app_id');
  });

/** The latest requests of an app, newest first. */
export async function listIntakeLog(database: Database, query: IntakeLogQuery): Promise<IntakeEntry[]> {
  const entries = ofApp(database('intake_log'), query)
    .orderBy('id', 'desc')
    .limit(query.limit)
    .select('id', 'at', 'client', 'what', 'status', 'accepted', 'duplicates', 'excluded', 'refused', 'remarked', 'reason', 'remedy')
    .select({
      appId: 'app_id',
      keyName: 'key_name',
      sampledOut: 'sampled_out',
      passedOver: 'passed_over',
      reportIdBytes: 'report_id',
      details: 'details',
    });
  if (query.outcome) entries.where(query.outcome === 'remarked' ? 'remarked' : countColumns[query.outcome], '>', 0);
  if (query.before !== undefined) entries.where('id', '<', query.before);
  const rows = (await entries) as (Omit<IntakeEntry, 'reportId' | 'lines'> & {
    reportIdBytes: Buffer | null;
    details: unknown;
  })[];
  return rows.map(({ reportIdBytes, details, ...row }) => {
    const { lines, unread } = readLines(details);
    return { ...row, reason: row.reason ?? unread, reportId: reportIdBytes && uuidText(reportIdBytes), lines };
  });
}

/** The lines of a request; where they cannot be read, why, for the log must not fail for a request of before. */
function readLines(details: unknown): { lines: readonly LoggedLine[]; unread: string | null } {
  try {
    return { lines: details === null ? [] : readStored(loggedLinesForm, details), unread: null };
  } catch (error) {
    if (!(error instanceof StoredJsonProblem)) throw error;
    return { lines: [], unread: error.message };
  }
}

export interface IntakeHour {
  /** Hours before the end of the window; 0 is the last one. */
  readonly hoursAgo: number;
  readonly counts: Readonly<Record<IntakeOutcome, number>>;
}

/** What arrived in each of the last hours; hours without requests are left out. */
export async function countIntakeHours(
  database: Database,
  { appId, strangers, hours, now }: { appId: number; strangers: boolean; hours: number; now: Date },
): Promise<IntakeHour[]> {
  const sums = Object.values(countColumns)
    .map((column) => `SUM(${column}) AS ${column}`)
    .join(', ');
  const rows: ({ hoursAgo: number } & Record<string, number>)[] = await ofApp(database('intake_log'), { appId, strangers })
    .where('at', '>=', new Date(now.getTime() - hours * hourMs))
    .select(database.raw(`FLOOR(TIMESTAMPDIFF(SECOND, at, ?) / 3600) AS hoursAgo, ${sums}`, [now]))
    .groupBy('hoursAgo');
  return rows.map((row) => ({
    hoursAgo: Math.max(0, Number(row.hoursAgo)),
    counts: Object.fromEntries(Object.entries(countColumns).map(([outcome, column]) => [outcome, Number(row[column])])) as Record<
      IntakeOutcome,
      number
    >,
  }));
}

/** Why requests were refused since a time, the commonest reason first. */
export interface Refusals {
  readonly reason: string;
  readonly remedy: string | null;
  readonly requests: number;
  readonly lastAt: Date;
}

export async function listRefusals(
  database: Database,
  { appId, strangers, since }: { appId: number; strangers: boolean; since: Date },
): Promise<Refusals[]> {
  const rows: (Refusals & { requests: number })[] = await ofApp(database('intake_log'), { appId, strangers })
    .where('at', '>=', since)
    .where('refused', '>', 0)
    .groupBy('reason', 'remedy')
    .orderBy('requests', 'desc')
    .limit(5)
    .select('reason', 'remedy')
    .count({ requests: '*' })
    .max({ lastAt: 'at' });
  return rows.map((row) => ({ ...row, requests: Number(row.requests) }));
}

/** When something was last accepted; null when nothing was, as far back as the log reaches. */
export async function lastAcceptedAt(database: Database, appId: number): Promise<Date | null> {
  const row = await database('intake_log').where({ app_id: appId }).where('accepted', '>', 0).orderBy('id', 'desc').first('at');
  return row?.at ?? null;
}

/** When the first and the latest report of an app was accepted, by its log; null when none was. */
export async function firstAccepted(database: Database, appId: number): Promise<{ at: Date; reportId: string } | null> {
  const row = await database('intake_log').where({ app_id: appId }).whereNotNull('report_id').orderBy('id').first('at', 'report_id');
  return row ? { at: row.at, reportId: uuidText(row.report_id) } : null;
}

/** Drops requests of no app that are older than a time, the limit at most, and counts of past minutes; gives how many requests went. */
export async function pruneIntakeLog(database: Database, before: Date, limit: number): Promise<number> {
  await database('intake_rates')
    .where('minute', '<', Math.floor(before.getTime() / 60_000))
    .delete();
  return database('intake_log').whereNull('app_id').where('at', '<', before).limit(limit).delete();
}
