import { dayMs } from '@rough-ember/core/durations';
import { type BareFacts, bareReport } from '@rough-ember/core/report/bare-report';
import { type KeptThing, type Retention, type RetentionLimit, retentionSchema } from '@rough-ember/core/report/retention';
import { fieldsOfContent } from '@rough-ember/core/report-index/report-terms';
import { packTermIds, unpackTermIds } from '@rough-ember/core/report-index/term-ids';
import type { Knex } from 'knex';
import { type Database, inTransaction } from './database.ts';
import { deleteReports } from './delete-reports.ts';
import { insertRows } from './insert-rows.ts';
import { reportBytes } from './parts-of-size.ts';
import { queueSweepOfTerms } from './terms.ts';
import { uuidText } from './uuid.ts';

/** How long an app keeps what, and how much of it. */
export async function readRetention(database: Database, appId: number): Promise<Retention> {
  const row = await database('apps').where({ id: appId }).first('retention');
  return retentionSchema.parse(row?.retention ?? {});
}

/** What an app holds of something, as it was last measured. Bytes are those of the texts and files, before the database compresses them. */
export interface Holding {
  readonly items: number;
  readonly bytes: number;
  readonly oldestAt: Date | null;
}

/** The place up to which something is to go, with what goes; null when nothing does. */
export interface Cut {
  readonly upTo: number;
  readonly items: number;
  readonly bytes: number;
}

interface Thing {
  readonly table: string;
  readonly at: string;
  readonly bytes: string;
  /** Rows of the table that count. */
  readonly where: string;
}

const things: Readonly<Record<KeptThing, Thing>> = {
  reports: {
    table: 'reports',
    at: 'received_at',
    bytes: reportBytes,
    // What waits is about to be processed.
    where: "state IN ('processed', 'failed')",
  },
  attachments: { table: 'attachments', at: 'received_at', bytes: 'size_bytes', where: '1' },
  intakeLog: {
    table: 'intake_log',
    at: 'at',
    bytes: '200 + COALESCE(LENGTH(details), 0) + COALESCE(LENGTH(reason), 0) + COALESCE(LENGTH(client), 0)',
    where: '1',
  },
};

/** Looks how much an app holds of something now, and keeps the answer for whoever asks later. */
export async function measureHolding(database: Database, appId: number, thing: KeptThing): Promise<Holding> {
  const { table, at, bytes, where } = things[thing];
  const [[row]] = (await database.raw(
    `SELECT COUNT(*) AS items, COALESCE(SUM(${bytes}), 0) AS bytes, MIN(${at}) AS oldestAt FROM ${table} WHERE app_id = ? AND ${where}`,
    [appId],
  )) as [[{ items: number; bytes: number | string; oldestAt: Date | null }]];
  const holding = { items: Number(row.items), bytes: Number(row.bytes), oldestAt: row.oldestAt };
  await database('holdings')
    .insert({
      app_id: appId,
      thing,
      items: holding.items,
      bytes: holding.bytes,
      oldest_at: holding.oldestAt,
      measured_at: database.raw('UTC_TIMESTAMP(3)'),
    })
    .onConflict(['app_id', 'thing'])
    .merge();
  return holding;
}

/** What an app held when it was last measured. */
export async function readHoldings(
  database: Database,
  appId: number,
): Promise<ReadonlyMap<KeptThing, Holding & { readonly measuredAt: Date }>> {
  const rows: (Holding & { thing: KeptThing; measuredAt: Date })[] = await database('holdings')
    .where({ app_id: appId })
    .select({ thing: 'thing', items: 'items', bytes: 'bytes', oldestAt: 'oldest_at', measuredAt: 'measured_at' });
  return new Map(rows.map(({ thing, items, bytes, ...rest }) => [thing, { ...rest, items: Number(items), bytes: Number(bytes) }]));
}

/** Where a limit cuts off what is too old, or more than may be held. */
export async function findCut(
  database: Database,
  { appId, thing, limit, now }: { appId: number; thing: KeptThing; limit: RetentionLimit; now: Date },
): Promise<Cut | null> {
  const { table, at, bytes, where } = things[thing];
  const ofApp = `FROM ${table} WHERE app_id = ? AND ${where}`;
  const places: number[] = [];
  if (limit.days !== null) {
    const before = new Date(now.getTime() - limit.days * dayMs);
    const [[row]] = (await database.raw(`SELECT MAX(id) AS upTo ${ofApp} AND ${at} < ?`, [appId, before])) as [[{ upTo: number | null }]];
    if (row.upTo !== null) places.push(Number(row.upTo));
  }
  if (limit.megabytes !== null) {
    const [[row]] = (await database.raw(
      `SELECT MAX(id) AS upTo FROM (SELECT id, SUM(${bytes}) OVER (ORDER BY id DESC) AS held ${ofApp}) AS held WHERE held > ?`,
      [appId, limit.megabytes * 1_000_000],
    )) as [[{ upTo: number | null }]];
    if (row.upTo !== null) places.push(Number(row.upTo));
  }
  if (places.length === 0) return null;
  const upTo = Math.max(...places);
  const [[sum]] = (await database.raw(`SELECT COUNT(*) AS items, COALESCE(SUM(${bytes}), 0) AS bytes ${ofApp} AND id <= ?`, [
    appId,
    upTo,
  ])) as [[{ items: number; bytes: number | string }]];
  return { upTo, items: Number(sum.items), bytes: Number(sum.bytes) };
}

const atOnce = 200;
const rowsAtOnce = 1_000;

/** Drops what lies before a cut, a part at a time; gives how much went this time, 0 when nothing is left. */
export async function dropBefore(
  database: Database,
  { appId, thing, upTo, now }: { appId: number; thing: KeptThing; upTo: number; now: Date },
): Promise<number> {
  if (thing === 'reports') return emptyReports(database, { appId, upTo, now });
  return database(things[thing].table).where({ app_id: appId }).where('id', '<=', upTo).orderBy('id').limit(rowsAtOnce).delete();
}

type EmptiedRow = Omit<BareFacts, 'id'> & { row: number; reportId: Buffer; state: string };

/** Takes the content out of reports: they stay to be counted. Those that could not be processed are counted nowhere and go whole. */
async function emptyReports(database: Database, { appId, upTo, now }: { appId: number; upTo: number; now: Date }): Promise<number> {
  return inTransaction(database, async (transaction) => {
    const rows: EmptiedRow[] = await transaction('reports')
      .where({ app_id: appId })
      .whereIn('state', ['processed', 'failed'])
      .where('id', '<=', upTo)
      .orderBy('id')
      .limit(atOnce)
      .forUpdate()
      .select({
        row: 'id',
        reportId: 'report_id',
        state: 'state',
        kind: 'kind',
        occurredAt: 'occurred_at',
        receivedAt: 'received_at',
        version: 'version',
        build: 'build',
        buildType: 'build_type',
        osName: 'os_name',
        osVersion: 'os_version',
        deviceModel: 'device_model',
      });
    const failed = rows.filter(({ state }) => state === 'failed').map(({ row }) => row);
    await deleteReports(transaction, appId, failed);
    const emptied = rows.filter(({ state }) => state !== 'failed');
    if (emptied.length > 0) await takeContent(transaction, appId, emptied, now);
    return rows.length;
  });
}

async function takeContent(transaction: Knex.Transaction, appId: number, emptied: readonly EmptiedRow[], now: Date): Promise<void> {
  const ids = emptied.map(({ row }) => row);
  await insertRows(
    transaction,
    'report_bodies',
    emptied.map((one) => ({ report_row: one.row, body: bareReport({ ...one, id: uuidText(one.reportId) }, now) })),
    { behind: 'ON DUPLICATE KEY UPDATE body = VALUES(body), readable = NULL, explanation = NULL' },
  );
  await transaction('attachments')
    .where({ app_id: appId })
    .whereIn(
      'report_id',
      emptied.map(({ reportId }) => reportId),
    )
    .delete();
  await transaction('report_needs').whereIn('report_row', ids).delete();
  await transaction('jobs').where({ kind: 'process-report' }).whereIn('subject_id', ids).delete();
  await dropTermsOfContent(transaction, appId, ids);
  await queueSweepOfTerms(transaction, appId);
  await transaction('reports')
    .whereIn('id', ids)
    .update({ state: 'emptied', installation_id: null, contact_key: null, body_bytes: null, made_bytes: null });
}

async function dropTermsOfContent(transaction: Knex.Transaction, appId: number, rows: readonly number[]): Promise<void> {
  const packed: { row: number; terms: Buffer }[] = await transaction('report_terms')
    .whereIn('report_row', rows)
    .select({ row: 'report_row', terms: 'terms' });
  const termsOf = packed.map(({ row, terms }) => ({ row, ids: unpackTermIds(terms) }));
  const all = [...new Set(termsOf.flatMap(({ ids }) => ids))];
  const going = new Set<number>();
  for (let at = 0; at < all.length; at += 2_000) {
    const found: number[] = await transaction('terms')
      .where({ app_id: appId })
      .whereIn('id', all.slice(at, at + 2_000))
      .whereIn('field', fieldsOfContent)
      .pluck('id');
    for (const id of found) going.add(id);
  }
  const left = termsOf.map(({ row, ids }) => ({ report_row: row, terms: Buffer.from(packTermIds(ids.filter((id) => !going.has(id)))) }));
  await insertRows(transaction, 'report_terms', left, { behind: 'ON DUPLICATE KEY UPDATE terms = VALUES(terms)' });
}
