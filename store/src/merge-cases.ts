import type { Knex } from 'knex';
import { recordEvent } from './case-events.ts';
import { hideIfEmpty, insertCase, lockApp } from './case-keys.ts';
import { readStatus } from './case-status.ts';
import { type Database, inTransaction, retried } from './database.ts';
import { uuidBytes } from './uuid.ts';

/** What a merge moved, so that it can be undone: each case with the keys that led to it. */
export interface MergedPart {
  readonly caseId: number;
  readonly number: number;
  /** Hexadecimal. */
  readonly keys: readonly string[];
}

/** Makes several cases one: their reports and their keys go to it, so that later reports follow. Gives how many were merged. */
export async function mergeCases(
  database: Database,
  { appId, into, from, actor }: { appId: number; into: number; from: readonly number[]; actor: string },
): Promise<number> {
  return inTransaction(database, async (transaction) => {
    await lockApp(transaction, appId);
    const before = await readStatus(transaction, into);
    const merged = from.filter((id) => id !== into);
    const cases: { id: number; number: number }[] = await transaction('cases')
      .where({ app_id: appId })
      .whereIn('id', merged)
      .whereNull('merged_into')
      .orderBy('id')
      .forUpdate()
      .select('id', 'number');
    if (!before || cases.length === 0) return 0;
    const parts: MergedPart[] = [];
    for (const { id, number } of cases) {
      const keys: { hash: Buffer }[] = await transaction('case_keys').where({ case_id: id }).forUpdate().select({ hash: 'key_hash' });
      parts.push({ caseId: id, number, keys: keys.map(({ hash }) => hash.toString('hex')) });
    }
    const ids = cases.map((one) => one.id);
    await transaction('case_keys').whereIn('case_id', ids).update({ case_id: into });
    await transaction('reports').whereIn('case_id', ids).update({ case_id: into });
    await transaction('cases').whereIn('id', ids).update({ merged_into: into });
    await recordEvent(transaction, { case_id: into, actor, kind: 'merge', detail: { parts }, before });
    return cases.length;
  });
}

/** A case that was merged may have been merged into one that was merged later. */
const mostSteps = 20;

/**
 * Takes reports along that were placed in a case at the moment at which it was merged. On one node of a cluster whoever places them holds the
 * key that led there; on two nodes neither sees what the other one locks. Gives how many went along.
 */
export async function followMergedCases(database: Database): Promise<number> {
  let moved = 0;
  for (let step = 0; step < mostSteps; step++) {
    const [result] = (await retried(() =>
      database.raw(
        'UPDATE reports JOIN cases ON cases.id = reports.case_id SET reports.case_id = cases.merged_into WHERE cases.merged_into IS NOT NULL',
      ),
    )) as [{ affectedRows: number }];
    if (result.affectedRows === 0) break;
    moved += result.affectedRows;
  }
  return moved;
}

/** Gives merged cases their keys and reports back. */
export async function unmerge(transaction: Knex.Transaction, into: number, parts: readonly MergedPart[]): Promise<void> {
  for (const { caseId, keys } of parts) {
    const hashes = keys.map((key) => Buffer.from(key, 'hex'));
    await transaction('case_keys').whereIn('key_hash', hashes).where({ case_id: into }).update({ case_id: caseId });
    await moveByKeys(transaction, { from: into, to: caseId, hashes });
    await transaction('cases').where({ id: caseId }).update({ merged_into: null });
  }
}

/** Moves the reports of a case whose variant or, failing that, whose key is among those given. */
async function moveByKeys(
  transaction: Knex.Transaction,
  { from, to, hashes }: { from: number; to: number; hashes: readonly Buffer[] },
): Promise<void> {
  await transaction('reports')
    .where({ case_id: from })
    .where((query) =>
      query
        .whereIn('variant_key', hashes)
        .orWhere((inner) =>
          inner
            .whereIn('grouping_key', hashes)
            .whereNotExists(
              transaction('case_keys')
                .select(transaction.raw('1'))
                .where({ case_id: from })
                .whereRaw('case_keys.key_hash = reports.variant_key'),
            ),
        ),
    )
    .update({ case_id: to });
}

/**
 * Takes the reports of a case that came the same way as those given out into a case of their own, where later ones follow.
 * Gives its number; null when nothing would stay, or none of the reports is in the case.
 */
export async function splitCase(
  database: Database,
  { appId, caseId, reportIds, actor }: { appId: number; caseId: number; reportIds: readonly string[]; actor: string },
): Promise<number | null> {
  return inTransaction(database, async (transaction) => {
    await lockApp(transaction, appId);
    const before = await readStatus(transaction, caseId);
    if (!before) return null;
    const chosen: { variant: Buffer; key: Buffer }[] = await transaction('reports')
      .where({ app_id: appId, case_id: caseId })
      .whereIn('report_id', reportIds.map(uuidBytes))
      .whereNotNull('variant_key')
      .distinct({ variant: 'variant_key', key: 'grouping_key' });
    if (chosen.length === 0) return null;
    // Whoever places a report by one of these keys right now is waited for, and its report comes along.
    await transaction('case_keys').where({ case_id: caseId }).forUpdate().select('key_hash');
    const variants = chosen.map((one) => one.variant);
    const stays = await transaction('reports')
      .where({ case_id: caseId })
      .where((query) => query.whereNotIn('variant_key', variants).orWhereNull('variant_key'))
      .first('id');
    if (!stays) return null;
    const head = await transaction('cases')
      .where({ id: caseId })
      .first('kind', 'what', 'where_text', 'message', 'culprit', 'provisional', 'excluded');
    const newId = await insertCase(transaction, appId, { ...head, culprit: head.culprit && JSON.stringify(head.culprit) });
    await transaction('case_keys').where({ case_id: caseId }).whereIn('key_hash', variants).delete();
    await transaction('case_keys').insert(variants.map((hash) => ({ app_id: appId, key_hash: hash, case_id: newId })));
    await transaction('reports').where({ case_id: caseId }).whereIn('variant_key', variants).update({ case_id: newId });
    const made = await transaction('cases').where({ id: newId }).first('number');
    const old = await transaction('cases').where({ id: caseId }).first('number');
    const detail = { into: made.number, variants: variants.map((hash) => hash.toString('hex')) };
    await recordEvent(transaction, { case_id: caseId, actor, kind: 'split', detail, before });
    await recordEvent(transaction, { case_id: newId, actor, kind: 'taken-out', detail: { of: old.number }, before: null });
    return made.number as number;
  });
}

/** Brings what was taken out of a case back. */
export async function unsplit(transaction: Knex.Transaction, caseId: number, { variants }: { variants: readonly string[] }): Promise<void> {
  const hashes = variants.map((key) => Buffer.from(key, 'hex'));
  const keys: { caseId: number }[] = await transaction('case_keys').whereIn('key_hash', hashes).forUpdate().select({ caseId: 'case_id' });
  for (const taken of new Set(keys.map((one) => one.caseId))) {
    await transaction('case_keys').where({ case_id: taken }).whereIn('key_hash', hashes).delete();
    await transaction('reports').where({ case_id: taken }).whereIn('variant_key', hashes).update({ case_id: caseId });
    await hideIfEmpty(transaction, taken, caseId);
  }
}
