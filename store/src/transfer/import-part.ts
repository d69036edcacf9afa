import type { Term } from '@rough-ember/core/report-index/report-terms';
import type { Knex } from 'knex';
import { type Database, inTransaction } from '../database.ts';
import { insertRows } from '../insert-rows.ts';
import { queueJobs } from '../jobs.ts';
import { idsOfTerms, packTerms, saveTerms } from '../terms.ts';
import type { TransferLine } from './export-part.ts';
import { type ColumnForm, partOf, type TransferPart, type TransferPartName } from './transfer-parts.ts';

/** A line that cannot be taken in, since what is there does not go with it. */
export class TransferProblem extends Error {}

type Row = Record<string, Knex.Value>;

/** Takes lines of a part in that were checked; those that are there already change nothing. Gives how many are new. */
export async function importPart(
  database: Database,
  appId: number,
  name: TransferPartName,
  lines: readonly TransferLine[],
): Promise<number> {
  if (lines.length === 0) return 0;
  const part = partOf(name);
  if (name === 'reports') return importReports(database, appId, part, lines);
  return inTransaction(database, async (transaction) => {
    const ids = await idsOfCases(transaction, appId, part, lines);
    const rows = lines.map((line) => ({ ...(name === 'case-events' ? {} : { app_id: appId }), ...rowOf(part, line, ids) }));
    if (name === 'cases') return importCases(transaction, appId, rows, lines);
    if (name === 'merged-cases') return mergeCases(transaction, appId, rows);
    if (part.sameBy) return insertUnlessThere(transaction, part, rows);
    if (name === 'session-days') await noteRawFrom(transaction, appId, lines);
    const { affectedRows } = (await insertRows(transaction, part.table, rows, { ignoreKnown: true })) as { affectedRows: number };
    return affectedRows;
  });
}

async function idsOfCases(
  transaction: Knex,
  appId: number,
  { columns }: TransferPart,
  lines: readonly TransferLine[],
): Promise<Map<number, number>> {
  const refs = Object.entries(columns).filter(([, { form }]) => form === 'case');
  const numbers = [...new Set(lines.flatMap((line) => refs.map(([name]) => line[name] as number | null)).filter((one) => one !== null))];
  if (numbers.length === 0) return new Map();
  const found: { id: number; number: number }[] = await transaction('cases')
    .where({ app_id: appId })
    .whereIn('number', numbers)
    .select('id', 'number');
  const ids = new Map(found.map(({ id, number }) => [number, id]));
  const missing = numbers.find((number) => !ids.has(number));
  if (missing !== undefined) throw new TransferProblem(`case ${missing} is named and not there; take the part "cases" in first`);
  return ids;
}

const read: Readonly<Record<Exclude<ColumnForm, 'case'>, (value: unknown) => Knex.Value>> = {
  number: (value) => value as number,
  flag: (value) => value as boolean,
  text: (value) => value as string,
  time: (value) => new Date(value as string),
  day: (value) => value as string,
  bytes: (value) => Buffer.from(value as string, 'hex'),
  content: (value) => Buffer.from(value as string, 'base64'),
  json: (value) => JSON.stringify(value),
};

function rowOf({ columns, derived }: TransferPart, line: TransferLine, ids: ReadonlyMap<number, number>): Row {
  const value = (form: ColumnForm, given: unknown): Knex.Value =>
    given === null || given === undefined ? null : form === 'case' ? (ids.get(given as number) as number) : read[form](given);
  return {
    ...Object.fromEntries(Object.entries(columns).map(([name, { column, form }]) => [column, value(form, line[name])])),
    ...derived?.(line),
  };
}

async function insertUnlessThere(
  transaction: Knex.Transaction,
  { table, sameBy = [] }: TransferPart,
  rows: readonly Row[],
): Promise<number> {
  let added = 0;
  for (const row of rows) {
    const same = Object.fromEntries([...(row.app_id === undefined ? [] : ['app_id']), ...sameBy].map((column) => [column, row[column]]));
    if (
      await transaction(table)
        .where(same as never)
        .first(transaction.raw('1'))
    )
      continue;
    await transaction(table).insert(row);
    added++;
  }
  return added;
}

/** Cases keep their numbers; an app that has others of its own under them takes none. */
async function importCases(
  transaction: Knex.Transaction,
  appId: number,
  rows: readonly Row[],
  lines: readonly TransferLine[],
): Promise<number> {
  const numbers = rows.map((row) => row.number as number);
  const there: { number: number; created_at: Date }[] = await transaction('cases')
    .where({ app_id: appId })
    .whereIn('number', numbers)
    .select('number', 'created_at');
  const createdAt = new Map(rows.map((row) => [row.number, (row.created_at as Date).getTime()]));
  const other = there.find((one) => createdAt.get(one.number) !== one.created_at.getTime());
  if (other) throw new TransferProblem(`this app has a case ${other.number} of its own; take an export in where nothing has arrived yet`);
  const fresh = rows.filter((row) => !there.some((one) => one.number === row.number));
  await insertRows(transaction, 'cases', fresh);
  const found: { id: number; number: number }[] = await transaction('cases')
    .where({ app_id: appId })
    .whereIn('number', numbers)
    .select('id', 'number');
  const ids = new Map(found.map(({ id, number }) => [number, id]));
  const keys = lines.flatMap((line) =>
    (line.keys as string[]).map((key) => ({
      app_id: appId,
      key_hash: Buffer.from(key, 'hex'),
      case_id: ids.get(line.number as number) as number,
    })),
  );
  await insertRows(transaction, 'case_keys', keys, { ignoreKnown: true });
  await transaction('apps')
    .where({ id: appId })
    .update({ last_case_number: transaction.raw('GREATEST(last_case_number, ?)', [Math.max(...numbers)]) });
  return fresh.length;
}

/** Days before the first whose sessions are there are not summed anew; everything else is. */
async function noteRawFrom(transaction: Knex.Transaction, appId: number, lines: readonly TransferLine[]): Promise<void> {
  const [{ rawFrom, attributes }] = lines as [TransferLine];
  await transaction('session_sums')
    .insert({ app_id: appId, position: null, attributes: JSON.stringify(attributes), generation: 1, raw_from: rawFrom as string })
    .onConflict('app_id')
    .merge({
      position: null,
      generation: transaction.raw('session_sums.generation + 1') as never,
      raw_from: transaction.raw("GREATEST(COALESCE(session_sums.raw_from, '1970-01-01'), VALUES(raw_from))") as never,
    });
}

async function mergeCases(transaction: Knex.Transaction, appId: number, rows: readonly Row[]): Promise<number> {
  let changed = 0;
  for (const { number, merged_into } of rows)
    changed += await transaction('cases').where({ app_id: appId, number }).whereNull('merged_into').update({ merged_into });
  return changed;
}

/** Reports are taken in as they were left: in their cases, readable as they were, and still asking for what they asked for. */
async function importReports(database: Database, appId: number, part: TransferPart, lines: readonly TransferLine[]): Promise<number> {
  const terms = lines.map((line) => line.terms as Term[]);
  const ids = await idsOfTerms(database, appId, terms.flat());
  return inTransaction(database, async (transaction) => {
    const cases = await idsOfCases(transaction, appId, part, lines);
    const texts = lines.map(({ report, readable, explanation }) => ({
      body: JSON.stringify(report),
      readable: readable === null ? null : JSON.stringify(readable),
      explanation: explanation === null ? null : JSON.stringify(explanation),
    }));
    const rows = lines.map((line, at) => {
      const { body, readable, explanation } = texts[at] as (typeof texts)[number];
      const made = Buffer.byteLength(readable ?? '') + Buffer.byteLength(explanation ?? '');
      return { app_id: appId, ...rowOf(part, line, cases), body_bytes: Buffer.byteLength(body), made_bytes: made };
    });
    const inserted = (await insertRows(transaction, 'reports', rows, { ignoreKnown: true, behind: 'RETURNING id, report_id' })) as {
      id: number;
      report_id: Buffer;
    }[];
    const rowOfId = new Map(inserted.map((one) => [one.report_id.toString('hex'), one.id]));
    const fresh = lines.flatMap((line, at) => {
      const row = rowOfId.get(line.reportId as string);
      return row === undefined ? [] : [{ row, line, at }];
    });
    for (const { row, at } of fresh)
      await insertRows(transaction, 'report_bodies', [{ report_row: row, ...(texts[at] as (typeof texts)[number]) }]);
    const found = fresh.filter(({ at }) => (terms[at] as Term[]).length > 0);
    await saveTerms(
      transaction,
      found.map(({ row, at }) => ({ row, terms: packTerms(terms[at] as Term[], ids) })),
    );
    await insertRows(
      transaction,
      'report_needs',
      fresh.flatMap(({ row, line }) => (line.needs as TransferLine[]).map((need) => needRow(appId, row, line, need))),
    );
    const waiting = fresh.filter(({ line }) => line.state === 'waiting').map(({ row }) => row);
    if (waiting.length > 0) await queueJobs(transaction, { kind: 'process-report', appId, priority: 'arrived' }, waiting);
    return fresh.length;
  });
}

const needRow = (appId: number, row: number, { version, build }: TransferLine, need: TransferLine): Row => ({
  report_row: row,
  app_id: appId,
  kind: need.kind as string,
  version: version as string,
  build: build as string,
  symbol_id: need.symbolId as string,
  symbol_key: need.symbolKey as string,
  name: need.name as string,
  found: need.found as boolean,
  frames_covered: need.framesCovered as number,
  frames_uncovered: need.framesUncovered as number,
});
