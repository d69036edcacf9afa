import { type FieldName, meaningOf } from '@rough-ember/core/fields/fields';
import type { SessionState } from '@rough-ember/core/report/session';
import { dayLayout } from '@rough-ember/core/session-index/day-block';
import { type Day, parseDay, printDay, sessionFields } from '@rough-ember/core/session-index/person-day';
import type { StoredSession } from '@rough-ember/core/session-index/sum-sessions';
import type { Knex } from 'knex';
import { noteChanges, type Position, readChanges } from './change-log.ts';
import { type Database, inTransaction } from './database.ts';

/** Sessions of one person on one day; where nobody is known, one session. */
export interface CountedDay {
  readonly countedKey: Buffer;
  readonly day: Day;
}

/** How far the sums of an app's sessions go. */
export interface SessionSums {
  /** Of the last change that is in the sums; null: all sessions are to be looked at anew. */
  readonly position: Position | null;
  /** Attributes that the days are told excluded by. */
  readonly attributes: readonly string[];
  /** Sessions of earlier days are gone; null while all are there. */
  readonly rawFrom: Day | null;
  /** Counts how often everything was to be summed anew. */
  readonly generation: number;
}

/** A session as it is read to be counted. */
export interface SessionRow {
  countedKey: Buffer;
  isKnown: number;
  day: string;
  excluded: number;
  started: number;
  state: SessionState;
  crashedAfterMs: number | string | null;
  errors: number;
  body: string | null;
  /** Of each field of sessions under its column. */
  readonly [column: string]: unknown;
}

const columnOf = (field: FieldName): string => meaningOf(field).sessionColumn as string;

export const sessionColumns = `COALESCE(person_key, session_id) AS countedKey, person_key IS NOT NULL AS isKnown, day, excluded, started, state,
  TIMESTAMPDIFF(MICROSECOND, started_at, crashed_at) DIV 1000 AS crashedAfterMs, errors, body, ${sessionFields.map(columnOf).join(', ')}`;

export function toStoredSession(row: SessionRow): StoredSession {
  const {
    flags = {},
    attributes = {},
    screens = [],
    requests = [],
  } = (row.body === null ? {} : JSON.parse(row.body)) as Partial<StoredSession>;
  const values = sessionFields.map((field) => [field, row[columnOf(field)] as string | null] as const);
  return {
    countedKey: row.countedKey,
    isKnown: row.isKnown === 1,
    day: parseDay(row.day),
    excluded: row.excluded === 1,
    inferred: row.started === 0,
    state: row.state,
    crashedAfterMs: row.crashedAfterMs === null ? null : Number(row.crashedAfterMs),
    errors: row.errors,
    values,
    flags,
    attributes,
    screens,
    requests,
  };
}

/**
 * When a session began: by its device, or, where that clock puts it on a day on which it cannot have been (`day` says on which it
 * counts), when it arrived.
 */
export const beganAt = 'IF(started_at > received_at OR CAST(started_at AS DATE) <> day, received_at, started_at)';

/** The sessions of a day, those that only reports tell of among them. */
export async function readSessionsOfDay(database: Database, appId: number, day: Day): Promise<StoredSession[]> {
  return readRows(database, 'day = ?', [appId, printDay(day)]);
}

async function readRows(database: Database, where: string, values: readonly Knex.RawBinding[]): Promise<StoredSession[]> {
  const [rows] = (await database.raw(`SELECT ${sessionColumns} FROM sessions WHERE app_id = ? AND ${where}`, [...values])) as [
    SessionRow[],
  ];
  return rows.map(toStoredSession);
}

/** The days that an app has sessions of. */
export async function listSessionDays(database: Database, appId: number): Promise<Day[]> {
  const days: string[] = await database('sessions').where({ app_id: appId }).distinct('day').orderBy('day').pluck('day');
  return days.map(parseDay);
}

/** Persons and days whose sessions changed after a position; null when that is not known any more. */
export async function listChangedDays(
  database: Database,
  appId: number,
  after: Position,
): Promise<{ readonly days: readonly CountedDay[]; readonly position: Position; readonly isAll: boolean } | null> {
  const changes = await readChanges(database, appId, 'person-day', after);
  return changes && { ...changes, days: changes.keys.map((key) => ({ countedKey: key.subarray(0, 16), day: key.readUInt16BE(16) })) };
}

/** How the sessions of a day stand, to be compared with their sums. */
export interface DayCheck {
  readonly day: Day;
  readonly sessions: number;
  readonly crashed: number;
  readonly withErrors: number;
}

/** Days of an app as the database has their sessions: all that there are, or those that are named. */
export async function checkSessionDays(database: Database, appId: number, days?: readonly Day[]): Promise<DayCheck[]> {
  if (days?.length === 0) return [];
  const ofDays = days ? ` AND day IN (${days.map(() => '?').join(', ')})` : '';
  const [rows] = (await database.raw(
    `SELECT day, COUNT(*) AS sessions, SUM(state = 'crashed') AS crashed, SUM(errors > 0) AS withErrors
     FROM sessions WHERE app_id = ? AND started${ofDays} GROUP BY day`,
    [appId, ...(days ?? []).map(printDay)],
  )) as [{ day: string; sessions: number; crashed: number | string; withErrors: number | string }[]];
  return rows.map(({ day, sessions, crashed, withErrors }) => ({
    day: parseDay(day),
    sessions: Number(sessions),
    crashed: Number(crashed),
    withErrors: Number(withErrors),
  }));
}

const atOnce = 1_000;

function* parts<Item>(items: readonly Item[]): Iterable<readonly Item[]> {
  for (let at = 0; at < items.length; at += atOnce) yield items.slice(at, at + atOnce);
}

/** All sessions of persons on days, those of other days of theirs among them. */
export async function readSessionsOf(database: Database, appId: number, days: readonly CountedDay[]): Promise<StoredSession[]> {
  const keys = [...new Map(days.map((one) => [one.countedKey.toString('hex'), one.countedKey])).values()];
  const wantedDays = [...new Set(days.map((one) => one.day))].map(printDay);
  const found: StoredSession[] = [];
  for (const some of parts(keys)) {
    const places = some.map(() => '?').join(', ');
    const ofDays = `day IN (${wantedDays.map(() => '?').join(', ')})`;
    const values = [appId, ...some, ...wantedDays];
    const [known, unknown] = await Promise.all([
      readRows(database, `person_key IN (${places}) AND ${ofDays}`, values),
      readRows(database, `session_id IN (${places}) AND person_key IS NULL AND ${ofDays}`, values),
    ]);
    found.push(...known, ...unknown);
  }
  return found;
}

/** How far the sums of an app go; null before the first. */
export async function readSessionSums(database: Database, appId: number): Promise<SessionSums | null> {
  const row = await database('session_sums').where({ app_id: appId }).first('position', 'layout', 'attributes', 'raw_from', 'generation');
  if (!row) return null;
  const { layout, attributes, raw_from: rawFrom, generation } = row;
  // Sums that hold something else than this program counts are made anew as far as the sessions are there.
  const position = row.position === null || layout !== dayLayout ? null : Number(row.position);
  return { position, attributes, rawFrom: rawFrom === null ? null : parseDay(rawFrom), generation };
}

/** The days that are kept, one after the other. */
export async function* readKeptDays(database: Database, appId: number): AsyncIterable<{ readonly day: Day; readonly content: Buffer }> {
  const days: string[] = await database('session_days').where({ app_id: appId }).orderBy('day').pluck('day');
  for (const day of days) {
    const row = await database('session_days').where({ app_id: appId, day }).first('content');
    if (row) yield { day: parseDay(day), content: row.content };
  }
}

/** Keeps days together with how far they go. What another process has kept meanwhile and goes further stays. */
export async function keepSessionDays(
  database: Database,
  appId: number,
  {
    days,
    position,
    attributes,
    generation,
  }: Omit<SessionSums, 'rawFrom' | 'position'> & { position: Position; days: readonly { day: Day; rows: number; content: Uint8Array }[] },
): Promise<boolean> {
  return inTransaction(database, async (transaction) => {
    const known = await transaction('session_sums').where({ app_id: appId }).forUpdate().first('position', 'layout', 'generation');
    const goesFurther = known?.position !== null && known?.layout === dayLayout && Number(known?.position) > position;
    if (known && (goesFurther || known.generation !== generation)) return false;
    for (const { day, rows, content } of days) {
      await transaction('session_days')
        .insert({ app_id: appId, day: printDay(day), row_count: rows, content: Buffer.from(content) })
        .onConflict(['app_id', 'day'])
        .merge();
    }
    await transaction('session_sums')
      .insert({ app_id: appId, position, layout: dayLayout, attributes: JSON.stringify(attributes), generation })
      .onConflict('app_id')
      .merge(['position', 'layout', 'attributes']);
    return true;
  });
}

/** Forgets the sums of days whose sessions are there, so that they are made anew; those of earlier days stay. */
export async function dropSessionSums(database: Database, appId: number): Promise<void> {
  await inTransaction(database, async (transaction) => {
    const sums = await transaction('session_sums').where({ app_id: appId }).forUpdate().first('raw_from');
    if (!sums) return;
    await transaction('session_sums')
      .where({ app_id: appId })
      .update({ position: null, generation: transaction.raw('generation + 1') });
    const days: Knex.QueryBuilder = transaction('session_days').where({ app_id: appId });
    await (sums.raw_from === null ? days : days.where('day', '>=', sums.raw_from)).delete();
  });
}

/**
 * Forgets sessions of days before one, and keeps their sums. Gives how many; at most `limit` at once, and none of an app whose
 * sums were never kept.
 */
export async function dropRawSessions(database: Database, appId: number, before: Day, limit: number): Promise<number> {
  return inTransaction(database, async (transaction) => {
    const kept = await transaction('session_sums').where({ app_id: appId }).forUpdate().first('app_id');
    if (!kept) return 0;
    await transaction('session_sums')
      .where({ app_id: appId })
      .where((either) => either.whereNull('raw_from').orWhere('raw_from', '<', printDay(before)))
      .update({ raw_from: printDay(before) });
    await transaction.raw('SET @ember_keeps_sums = 1');
    try {
      return await transaction('sessions').where({ app_id: appId }).where('day', '<', printDay(before)).limit(limit).delete();
    } finally {
      // The connection goes back to the pool, where others delete sessions for good.
      await transaction.raw('SET @ember_keeps_sums = NULL');
    }
  });
}

/** The day that stands for all days of a person, those whose sessions are gone among them. */
export const everyDay: Day = 0;

/** Tells that nothing of a person is to be counted any more. */
export async function forgetCounted(transaction: Knex.Transaction, appId: number, keys: readonly Buffer[]): Promise<void> {
  const everyDayBytes = Buffer.alloc(2);
  everyDayBytes.writeUInt16BE(everyDay);
  await noteChanges(
    transaction,
    appId,
    'person-day',
    keys.map((key) => Buffer.concat([key, everyDayBytes])),
  );
}
