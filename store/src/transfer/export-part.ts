import { nameOfTerm, type Term } from '@rough-ember/core/report-index/report-terms';
import { unpackTermIds } from '@rough-ember/core/report-index/term-ids';
import type { Database } from '../database.ts';
import { partsOfSize, sizedRow } from '../parts-of-size.ts';
import { readTerms } from '../report-feed.ts';
import { type ColumnForm, partOf, type TransferPart, type TransferPartName } from './transfer-parts.ts';

/** A line as it is taken along. */
export type TransferLine = Record<string, unknown>;

/** Some lines of a part, and where the next begin; null after the last. */
export interface TransferPage {
  readonly lines: readonly TransferLine[];
  readonly next: string | null;
}

type Row = Record<string, unknown>;

/** Reports of so many bytes are read at once. */
const pageBytes = 2_000_000;

/** Reads the lines of a part that come after a cursor; an empty one is before the first. */
export async function exportPart(database: Database, appId: number, name: TransferPartName, after: string): Promise<TransferPage> {
  const part = partOf(name);
  const rows = await readRows(database, appId, name, part, after);
  const numbers = await numbersOfCases(database, part, rows);
  const lines = rows.map((row) => lineOf(part, row, numbers));
  if (name === 'cases') await addKeys(database, appId, lines);
  if (name === 'session-days' && lines.length > 0) {
    const sums = await database('session_sums').where({ app_id: appId }).first('raw_from', 'attributes');
    for (const line of lines) Object.assign(line, { rawFrom: written.day(sums?.raw_from), attributes: written.json(sums?.attributes) });
  }
  if (name === 'reports') await addBodies(database, appId, rows, lines);
  const last = rows.at(-1);
  return { lines, next: last && rows.length > 0 ? cursorOf(part, last) : null };
}

const columnsToRead = ({ columns, order }: TransferPart, table: string): string[] => [
  ...new Set([...order, ...Object.values(columns).map(({ column }) => column)].map((column) => `${table}.${column}`)),
];

async function readRows(database: Database, appId: number, name: TransferPartName, part: TransferPart, after: string): Promise<Row[]> {
  const { table, order, atOnce } = part;
  const query = database(table)
    .orderBy(order.map((column) => `${table}.${column}`))
    .limit(atOnce);
  // Events are of an app by their cases.
  if (name === 'case-events')
    query.join('cases', 'cases.id', 'case_events.case_id').where('cases.app_id', appId).whereNull('cases.deleted_at');
  else query.where(`${table}.app_id`, appId);
  if (name === 'session-days')
    query.join('session_sums', 'session_sums.app_id', 'session_days.app_id').whereRaw('session_days.day < session_sums.raw_from');
  if (name === 'cases') query.whereNull('deleted_at');
  if (name === 'merged-cases') query.whereNull('deleted_at').whereNotNull('merged_into');
  if (after !== '') {
    const values = readCursor(part, after);
    query.whereRaw(`(${order.map((column) => `${table}.${column}`).join(', ')}) > (${order.map(() => '?').join(', ')})`, values as never);
  }
  if (name === 'reports') {
    const sized: { row: number; bytes: number }[] = await query.clone().select(sizedRow(database));
    const [first = []] = partsOfSize(sized, ({ bytes }) => bytes, pageBytes);
    query.limit(Math.max(1, first.length));
  }
  return query.select(columnsToRead(part, table));
}

/** A cursor as text: numbers and names as they are, bytes in hexadecimal. */
const cursorOf = ({ order }: TransferPart, row: Row): string =>
  order.map((column) => (Buffer.isBuffer(row[column]) ? row[column].toString('hex') : String(row[column]))).join('.');

/** The values that a cursor stands for; what is none is before the first row. */
function readCursor({ order, columns }: TransferPart, cursor: string): (string | number | Buffer)[] {
  const isBytes = (column: string) => Object.values(columns).some((one) => one.column === column && one.form === 'bytes');
  // A name may hold what separates several.
  const parts = order.length === 1 ? [cursor] : cursor.split('.');
  return order.map((column, at) => {
    const text = parts[at] ?? '';
    if (isBytes(column)) return Buffer.from(text, 'hex');
    return column === 'name' || column === 'day' ? text : Number(text) || 0;
  });
}

async function numbersOfCases(database: Database, { columns }: TransferPart, rows: readonly Row[]): Promise<Map<number, number>> {
  const refs = Object.values(columns).filter(({ form }) => form === 'case');
  const ids = [...new Set(rows.flatMap((row) => refs.map(({ column }) => row[column] as number | null)).filter((id) => id !== null))];
  if (ids.length === 0) return new Map();
  const found: { id: number; number: number }[] = await database('cases').whereIn('id', ids).select('id', 'number');
  return new Map(found.map(({ id, number }) => [id, number]));
}

function lineOf({ columns }: TransferPart, row: Row, numbers: ReadonlyMap<number, number>): TransferLine {
  const write = (form: ColumnForm, value: unknown): unknown =>
    form === 'case' ? (numbers.get(value as number) ?? null) : written[form](value);
  return Object.fromEntries(
    Object.entries(columns).map(([name, { column, form }]) => [
      name,
      row[column] === null || row[column] === undefined ? null : write(form, row[column]),
    ]),
  );
}

const written: Readonly<Record<Exclude<ColumnForm, 'case'>, (value: unknown) => unknown>> = {
  number: Number,
  flag: (value) => Number(value) === 1,
  text: String,
  time: (value) => (value as Date).toISOString(),
  day: (value) => (value instanceof Date ? value.toISOString().slice(0, 10) : value),
  bytes: (value) => (value as Buffer).toString('hex'),
  content: (value) => (value as Buffer).toString('base64'),
  json: (value) => (typeof value === 'string' ? JSON.parse(value) : value),
};

/** The keys by which reports find each case. */
async function addKeys(database: Database, appId: number, lines: readonly TransferLine[]): Promise<void> {
  const found: { number: number; key: Buffer }[] = await database('case_keys')
    .join('cases', 'cases.id', 'case_keys.case_id')
    .where('case_keys.app_id', appId)
    .whereIn(
      'cases.number',
      lines.map((line) => line.number as number),
    )
    .select({ number: 'cases.number', key: 'key_hash' });
  for (const line of lines) line.keys = found.filter((one) => one.number === line.number).map(({ key }) => key.toString('hex'));
}

/** What each report was sent as and made of, what it can be found by, and which symbol files it asks for. */
async function addBodies(database: Database, appId: number, rows: readonly Row[], lines: readonly TransferLine[]): Promise<void> {
  const ids = rows.map((row) => row.id as number);
  const [bodies, packed, needs] = await Promise.all([
    database('report_bodies').whereIn('report_row', ids).select('report_row', 'body', 'readable', 'explanation'),
    database('report_terms').whereIn('report_row', ids).select('report_row', 'terms'),
    database('report_needs').whereIn('report_row', ids).select({
      row: 'report_row',
      kind: 'kind',
      symbolId: 'symbol_id',
      symbolKey: 'symbol_key',
      name: 'name',
      found: 'found',
      framesCovered: 'frames_covered',
      framesUncovered: 'frames_uncovered',
    }),
  ]);
  const termIds = new Map<number, number[]>(
    packed.map((one: { report_row: number; terms: Buffer }) => [one.report_row, unpackTermIds(one.terms)]),
  );
  const terms = await termsById(database, appId, [...new Set([...termIds.values()].flat())]);
  const bodyOf = new Map(bodies.map((one: { report_row: number }) => [one.report_row, one as Row]));
  rows.forEach((row, at) => {
    const line = lines[at] as TransferLine;
    const id = row.id as number;
    const body = bodyOf.get(id);
    const json = (value: unknown) => (value === null || value === undefined || value === '' ? null : JSON.parse(value as string));
    line.report = json(body?.body);
    line.readable = json(body?.readable);
    line.explanation = json(body?.explanation);
    line.terms = (termIds.get(id) ?? []).flatMap((term) => terms.get(term) ?? []).sort(byName);
    line.needs = needs.filter((one: Row) => one.row === id).map(({ row: _, found, ...need }: Row) => ({ ...need, found: found === 1 }));
  });
}

/** Their numbers differ from server to server. */
const byName = (one: Term, other: Term): number => (nameOfTerm(one) < nameOfTerm(other) ? -1 : 1);

async function termsById(database: Database, appId: number, ids: readonly number[]): Promise<Map<number, [Term]>> {
  const found = new Map<number, [Term]>();
  for (let at = 0; at < ids.length; at += 1_000)
    for (const { id, ...term } of await readTerms(database, appId, { ids: ids.slice(at, at + 1_000) })) found.set(id, [term]);
  return found;
}
