import type { Knex } from 'knex';
import { insertRows } from './insert-rows.ts';

/** Something that happened and that rules of an app may tell of. */
export interface AlertFact {
  readonly kind: 'case-begins' | 'case-returns' | 'report';
  readonly appId: number;
  readonly caseId: number;
  readonly reportRow: number;
}

/** Keeps facts that some rule of their app waits for, in the transaction in which they arose. */
export async function recordFacts(transaction: Knex.Transaction, facts: readonly AlertFact[]): Promise<void> {
  if (facts.length === 0) return;
  const waited: { app_id: number; kind: string }[] = await transaction('alert_rules')
    .whereIn('app_id', [...new Set(facts.map((one) => one.appId))])
    .whereIn('kind', [...new Set(facts.map((one) => one.kind))])
    .distinct('app_id', 'kind');
  const isWaited = new Set(waited.map((one) => `${one.app_id} ${one.kind}`));
  await insertRows(
    transaction,
    'alert_facts',
    facts
      .filter(({ appId, kind }) => isWaited.has(`${appId} ${kind}`))
      .map(({ kind, appId, caseId, reportRow }) => ({ app_id: appId, kind, case_id: caseId, report_row: reportRow })),
  );
}

export interface KeptFact extends AlertFact {
  readonly id: number;
  readonly at: Date;
}

/** Some facts that nobody else works at, of one app, the oldest first; they are locked until the transaction ends. */
export async function takeFacts(transaction: Knex.Transaction, limit: number): Promise<KeptFact[]> {
  const columns = { id: 'id', kind: 'kind', appId: 'app_id', caseId: 'case_id', reportRow: 'report_row', at: 'at' } as const;
  const oldest: KeptFact | undefined = await transaction('alert_facts').orderBy('id').forUpdate().skipLocked().first(columns);
  if (!oldest) return [];
  return transaction('alert_facts')
    .where({ app_id: oldest.appId })
    .orderBy('id')
    .limit(limit)
    .forUpdate()
    .skipLocked()
    .select<KeptFact[]>(columns);
}

export const dropFacts = (transaction: Knex.Transaction, ids: readonly number[]): Promise<number> =>
  transaction('alert_facts').whereIn('id', ids).delete();
