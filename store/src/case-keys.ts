import { createHash } from 'node:crypto';
import type { Grouping } from '@rough-ember/core/grouping/group-report';
import type { ReportKind } from '@rough-ember/core/report/report-kinds';
import type { Knex } from 'knex';
import { titleColumns } from './case-titles.ts';

/** A grouping key, or the key of a variant, as it is stored. */
export const hashKey = (key: string): Buffer => createHash('sha256').update(key).digest();

export interface KeyedReport {
  readonly row: number;
  readonly appId: number;
  readonly report: { readonly kind: ReportKind; readonly excluded: boolean };
  readonly grouping: Omit<Grouping, 'explanation'>;
}

export interface ReportKeys {
  readonly key: Buffer;
  /** Finer than the key: it decides when this variant was taken out of its case. */
  readonly variant: Buffer;
}

/** Excluded reports share no case with others, whatever broke; the word is part of the keys that databases hold. */
export function keysOf({ report, grouping }: Pick<KeyedReport, 'report' | 'grouping'>): ReportKeys {
  const prefix = report.excluded ? 'apart\n' : '';
  return { key: hashKey(prefix + grouping.key), variant: hashKey(prefix + grouping.variant) };
}

/** Where a report was before it was placed, and where it is now. */
export interface Placed {
  readonly before: number | null;
  readonly caseId: number;
  /** It made the case. */
  readonly isFirst: boolean;
}

/**
 * Places reports in the cases of their keys: those that are the first of their kind make one, and no case that they leave
 * becomes a ghost. The reports' rows are locked; what is gone or emptied meanwhile is left out of the answer, which goes by row.
 */
export async function placeInCases(transaction: Knex.Transaction, reports: readonly KeyedReport[]): Promise<Map<number, Placed>> {
  const rows: { row: number; before: number | null }[] = await transaction('reports')
    .whereIn(
      'id',
      reports.map(({ row }) => row),
    )
    // What a report held may have gone while it was looked at, and what is being deleted stays where it is.
    .whereNot({ state: 'emptied' })
    .whereNotExists(transaction('cases').select(transaction.raw('1')).whereRaw('cases.id = reports.case_id').whereNotNull('deleted_at'))
    .orderBy('id')
    .forUpdate()
    .select({ row: 'id', before: 'case_id' });
  const beforeOf = new Map(rows.map(({ row, before }) => [row, before]));
  const keyed = reports.filter(({ row }) => beforeOf.has(row)).map((report) => ({ ...report, keys: keysOf(report) }));
  const caseOf = await findCases(transaction, keyed);

  const placed = new Map<number, Placed>();
  const alike = new Map<string, { caseId: number; keys: ReportKeys; rows: number[] }>();
  const others: typeof keyed = [];
  for (const report of keyed) {
    const { row, keys } = report;
    const before = beforeOf.get(row) ?? null;
    const caseId = caseOf(report);
    if (caseId === null || (before !== null && before !== caseId)) {
      others.push(report);
      continue;
    }
    placed.set(row, { before, caseId, isFirst: false });
    const name = `${caseId} ${keys.variant.toString('hex')} ${keys.key.toString('hex')}`;
    const group = alike.get(name) ?? { caseId, keys, rows: [] };
    group.rows.push(row);
    alike.set(name, group);
  }
  for (const { caseId, keys, rows } of alike.values()) await writePlace(transaction, rows, caseId, keys);
  // After those that only come: a case that one report leaves and another one enters does not look empty in between.
  for (const report of others) {
    const before = beforeOf.get(report.row) ?? null;
    placed.set(report.row, { before, ...(await placeAlone(transaction, report, before)) });
  }
  return placed;
}

const writePlace = (transaction: Knex.Transaction, rows: readonly number[], caseId: number, { key, variant }: ReportKeys) =>
  transaction('reports').whereIn('id', rows).update({ case_id: caseId, grouping_key: key, variant_key: variant });

/** Places a report that makes a case or leaves one. */
async function placeAlone(
  transaction: Knex.Transaction,
  report: KeyedReport & { readonly keys: ReportKeys },
  before: number | null,
): Promise<Omit<Placed, 'before'>> {
  const known = (await findCases(transaction, [report]))(report);
  const { caseId, isFirst } = known === null ? await makeCase(transaction, report, before) : { caseId: known, isFirst: false };
  const movedFrom = before !== null && before !== caseId ? before : null;
  // The last two reports of a case may move at the same time; one waits here, so that the later one sees it empty.
  if (movedFrom !== null) await transaction('cases').where({ id: movedFrom }).forUpdate().first('id');
  await writePlace(transaction, [report.row], caseId, report.keys);
  if (movedFrom !== null) await hideIfEmpty(transaction, movedFrom, caseId);
  return { caseId, isFirst };
}

type Keys = Pick<KeyedReport, 'appId'> & { readonly keys: ReportKeys };

/**
 * The cases that keys lead to, null where there is none yet. The keys stay locked against whoever would send them elsewhere,
 * until the reports are placed.
 */
async function findCases(transaction: Knex.Transaction, reports: readonly Keys[]): Promise<(report: Keys) => number | null> {
  const nameOf = (appId: number, hash: Buffer) => `${appId} ${hash.toString('hex')}`;
  const rows: { appId: number; hash: Buffer; caseId: number }[] = await transaction('case_keys')
    .whereIn('app_id', [...new Set(reports.map(({ appId }) => appId))])
    .whereIn(
      'key_hash',
      reports.flatMap(({ keys }) => [keys.variant, keys.key]),
    )
    .forShare()
    .select({ appId: 'app_id', hash: 'key_hash', caseId: 'case_id' });
  const known = new Map(rows.map(({ appId, hash, caseId }) => [nameOf(appId, hash), caseId]));
  const find = ({ appId, keys }: Keys) => known.get(nameOf(appId, keys.variant)) ?? known.get(nameOf(appId, keys.key)) ?? null;
  const found = [...new Set(reports.map(find).filter((caseId) => caseId !== null))];
  // A case that had led elsewhere stands for itself again.
  const merged: number[] = await transaction('cases').whereIn('id', found).whereNotNull('merged_into').pluck('id');
  if (merged.length > 0) await transaction('cases').whereIn('id', merged).update({ merged_into: null });
  return find;
}

async function makeCase(
  transaction: Knex.Transaction,
  keyed: KeyedReport & { readonly keys: ReportKeys },
  previousCaseId: number | null,
): Promise<Omit<Placed, 'before'>> {
  const { appId, grouping, report, keys } = keyed;
  // Numbers have no gaps and no two processes make the same case: whoever makes one holds the app's row.
  await lockApp(transaction, appId);
  const madeMeanwhile = (await findCases(transaction, [keyed]))(keyed);
  if (madeMeanwhile !== null) return { caseId: madeMeanwhile, isFirst: false };
  const shown = { ...titleColumns(grouping), excluded: report.excluded };
  const addKey = (caseId: number) => transaction('case_keys').insert({ app_id: appId, key_hash: keys.key, case_id: caseId });
  if (previousCaseId !== null && !grouping.provisional) {
    // The case that stood for the unreadable reports keeps its number and becomes the readable one.
    const adopted = await transaction('cases').where({ id: previousCaseId, provisional: true }).update(shown);
    if (adopted > 0) {
      await addKey(previousCaseId);
      return { caseId: previousCaseId, isFirst: false };
    }
  }
  const caseId = await insertCase(transaction, appId, { kind: report.kind, ...shown });
  await addKey(caseId);
  return { caseId, isFirst: true };
}

export const lockApp = (transaction: Knex.Transaction, appId: number) => transaction('apps').where({ id: appId }).forUpdate().first('id');

/** Inserts a case under the next number; the app's row must be locked. */
export async function insertCase(transaction: Knex.Transaction, appId: number, columns: object): Promise<number> {
  await transaction('apps').where({ id: appId }).increment('last_case_number', 1);
  const app = await transaction('apps').where({ id: appId }).first({ number: 'last_case_number' });
  const [id] = await transaction('cases').insert({ app_id: appId, number: app.number, ...columns });
  return id as number;
}

/** Leaves no ghost: a case whose last report has moved leads to where it went, with its history. */
export async function hideIfEmpty(transaction: Knex.Transaction, caseId: number, movedTo: number): Promise<void> {
  // A locking read sees what others have committed meanwhile, a plain one only the start of this transaction.
  const left = await transaction('reports').where({ case_id: caseId }).forShare().first('id');
  if (!left) await transaction('cases').where({ id: caseId }).update({ merged_into: movedTo });
}
