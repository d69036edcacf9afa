import { createHash } from 'node:crypto';
import type { Grouping } from '@rough-ember/core/grouping/group-report';
import type { ReportKind } from '@rough-ember/core/report/report-kinds';
import type { Knex } from 'knex';

/** A grouping key, or the key of a variant, as it is stored. */
export const hashKey = (key: string): Buffer => createHash('sha256').update(key).digest();

export interface KeyedReport {
  readonly row: number;
  readonly appId: number;
  readonly report: { readonly kind: ReportKind; readonly apart: boolean };
  readonly grouping: Grouping;
}

export interface ReportKeys {
  readonly key: Buffer;
  /** Finer than the key: it decides when this variant was taken out of its case. */
  readonly variant: Buffer;
}

/** Reports that are kept apart share no case with others, whatever broke. */
export function keysOf({ report, grouping }: Pick<KeyedReport, 'report' | 'grouping'>): ReportKeys {
  const prefix = report.apart ? 'apart\n' : '';
  return { key: hashKey(prefix + grouping.key), variant: hashKey(prefix + grouping.variant) };
}

/**
 * Places a report in the case of its keys, which is made when it is the first of its kind, and leaves no ghost where it was.
 * The report's row must be locked. Gives the case.
 */
export async function placeInCase(transaction: Knex.Transaction, keyed: KeyedReport, previousCaseId: number | null): Promise<number> {
  const keys = keysOf(keyed);
  const caseId = (await findCase(transaction, keyed.appId, keys)) ?? (await makeCase(transaction, keyed, keys, previousCaseId));
  const movedFrom = previousCaseId !== null && previousCaseId !== caseId ? previousCaseId : null;
  // The last two reports of a case may move at the same time; one waits here, so that the later one sees it empty.
  if (movedFrom !== null) await transaction('cases').where({ id: movedFrom }).forUpdate().first('id');
  await transaction('reports').where({ id: keyed.row }).update({ case_id: caseId, grouping_key: keys.key, variant_key: keys.variant });
  if (movedFrom !== null) await hideIfEmpty(transaction, movedFrom, caseId);
  return caseId;
}

/** The case that keys lead to. The keys stay locked against whoever would send them elsewhere, until the report is placed. */
async function findCase(transaction: Knex.Transaction, appId: number, { key, variant }: ReportKeys): Promise<number | null> {
  const rows: { hash: Buffer; caseId: number }[] = await transaction('case_keys')
    .where({ app_id: appId })
    .whereIn('key_hash', [variant, key])
    .forShare()
    .select({ hash: 'key_hash', caseId: 'case_id' });
  const caseId = (rows.find(({ hash }) => hash.equals(variant)) ?? rows[0])?.caseId ?? null;
  if (caseId === null) return null;
  const merged = await transaction('cases').where({ id: caseId }).whereNotNull('merged_into').first('id');
  if (merged) await transaction('cases').where({ id: caseId }).update({ merged_into: null });
  return caseId;
}

async function makeCase(
  transaction: Knex.Transaction,
  { appId, grouping, report }: KeyedReport,
  keys: ReportKeys,
  previousCaseId: number | null,
): Promise<number> {
  // Numbers have no gaps and no two processes make the same case: whoever makes one holds the app's row.
  await lockApp(transaction, appId);
  const madeMeanwhile = await findCase(transaction, appId, keys);
  if (madeMeanwhile !== null) return madeMeanwhile;
  const shown = {
    what: grouping.what.slice(0, 500),
    where_text: grouping.where.slice(0, 1200),
    message: grouping.message?.slice(0, 2000) ?? null,
    culprit: grouping.culprit && JSON.stringify(grouping.culprit),
    provisional: grouping.provisional,
    apart: report.apart,
  };
  const addKey = (caseId: number) => transaction('case_keys').insert({ app_id: appId, key_hash: keys.key, case_id: caseId });
  if (previousCaseId !== null && !grouping.provisional) {
    // The case that stood for the unreadable reports keeps its number and becomes the readable one.
    const adopted = await transaction('cases').where({ id: previousCaseId, provisional: true }).update(shown);
    if (adopted > 0) {
      await addKey(previousCaseId);
      return previousCaseId;
    }
  }
  const caseId = await insertCase(transaction, appId, { kind: report.kind, ...shown });
  await addKey(caseId);
  return caseId;
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
