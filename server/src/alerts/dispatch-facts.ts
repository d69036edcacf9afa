import { isInForce } from '@rough-ember/core/alerts/alert-rule';
import { dropFacts, type KeptFact, takeFacts } from '@rough-ember/store/alert-facts';
import { lockRules } from '@rough-ember/store/alert-rules';
import { loadCaseHeads } from '@rough-ember/store/cases';
import { inTransaction, type Transaction } from '@rough-ember/store/database';
import type { Services } from '../services.ts';
import { loadAudience } from './load-audience.ts';
import { type Audience, raiseAlerts } from './raise-alerts.ts';

const factsAtOnce = 1_000;

/**
 * Turns some of the facts that wait into alerts of the rules that they meet, in one transaction: a fact is told once, whoever dies meanwhile.
 * Gives how many facts that were.
 */
export async function dispatchFacts(services: Pick<Services, 'database' | 'workers' | 'mailer'>): Promise<number> {
  return inTransaction(services.database, async (transaction) => {
    const facts = await takeFacts(transaction, factsAtOnce);
    const [first] = facts;
    if (!first) return 0;
    const audience = await loadAudience(services, transaction, first.appId);
    // Nobody is told of an app that is gone.
    if (audience !== null) await raiseOfFacts(services, transaction, audience, facts);
    await dropFacts(
      transaction,
      facts.map((one) => one.id),
    );
    return facts.length;
  });
}

/** Raises the alerts of the rules that some facts meet. */
async function raiseOfFacts(
  services: Pick<Services, 'workers'>,
  transaction: Transaction,
  audience: Audience,
  facts: readonly KeptFact[],
): Promise<void> {
  const told = await factsOfRules(services, transaction, audience.app.id, facts);
  for (const kept of await lockRules(transaction, [...told.keys()])) {
    // Somebody may have paused it a moment ago.
    if (!isInForce(kept.rule, Date.now())) continue;
    const ofKind = (told.get(kept.id) ?? []).filter(({ kind }) => kind === kept.rule.what.kind);
    const found = ofKind.map(({ kind, caseId, reportRow, at }) => ({
      fact: kind === 'case-begins' ? `case ${caseId}` : `report ${reportRow}`,
      caseId,
      reportRow,
      told: null,
      at,
    }));
    await raiseAlerts(transaction, audience, kept, found);
  }
}

/** The rules that some facts of an app meet, by their numbers, each with those facts. */
async function factsOfRules(
  { workers }: Pick<Services, 'workers'>,
  transaction: Transaction,
  appId: number,
  facts: readonly KeptFact[],
): Promise<Map<number, KeptFact[]>> {
  const heard = await withoutMuted(transaction, facts);
  if (heard.length === 0) return new Map();
  const asked = heard.map(({ kind, reportRow }) => ({ kind, row: reportRow }));
  const told = new Map<number, KeptFact[]>();
  for (const [id, rows] of await workers.run('matchReports', appId, asked)) {
    const met = new Set(rows);
    told.set(
      id,
      heard.filter((one) => met.has(one.reportRow)),
    );
  }
  return told;
}

/** Of a muted case nobody wants to hear, and of one that is gone nothing can be said. */
async function withoutMuted(transaction: Transaction, facts: readonly KeptFact[]): Promise<KeptFact[]> {
  const heads = await loadCaseHeads(transaction, [...new Set(facts.map((one) => one.caseId))]);
  const heard = new Set(heads.filter(({ state }) => state !== 'muted').map(({ id }) => id));
  return facts.filter(({ caseId }) => heard.has(caseId));
}
