import { happeningKinds, isInForce } from '@rough-ember/core/alerts/alert-rule';
import { dropFacts, type KeptFact, takeFacts } from '@rough-ember/store/alert-facts';
import { lockRules } from '@rough-ember/store/alert-rules';
import { loadCaseHeads } from '@rough-ember/store/cases';
import { inTransaction, type Transaction } from '@rough-ember/store/database';
import type { Services } from '../services.ts';
import { loadAudience } from './load-audience.ts';
import { raiseAlerts } from './raise-alerts.ts';

const factsAtOnce = 400;

/**
 * Turns some of the facts that wait into alerts of the rules that they meet, in one transaction: a fact is told once, whoever dies meanwhile.
 * Gives how many facts that were.
 */
export async function dispatchFacts(services: Pick<Services, 'database' | 'workers' | 'mailer' | 'changes'>): Promise<number> {
  const { database, workers, changes } = services;
  const { count, told } = await inTransaction(database, async (transaction) => {
    const facts = await takeFacts(transaction, factsAtOnce);
    const [first] = facts;
    if (!first) return { count: 0, told: null };
    let raised = 0;
    const ids = facts.map((one) => one.id);
    const audience = await loadAudience(services, transaction, first.appId);
    const kinds = happeningKinds.filter((kind) => facts.some((one) => one.kind === kind));
    const rules =
      audience === null ? [] : (await lockRules(transaction, first.appId, kinds)).filter(({ rule }) => isInForce(rule, Date.now()));
    if (audience !== null && rules.length > 0) {
      const wheres = [...new Set(rules.map(({ rule }) => rule.where))];
      const rows = [...new Set(facts.map((one) => one.reportRow))];
      const held = await workers.run('matchReports', first.appId, rows, wheres);
      const heldBy = new Map(wheres.map((where, at) => [where, new Set(held[at])]));
      const heard = await withoutMuted(transaction, facts);
      for (const kept of rules) {
        const { what, where } = kept.rule;
        const met = heard.filter((fact) => fact.kind === what.kind && heldBy.get(where)?.has(fact.reportRow));
        raised += await raiseAlerts(
          transaction,
          audience,
          kept,
          met.map(({ kind, caseId, reportRow, at }) => ({
            fact: kind === 'case-begins' ? `case ${caseId}` : `report ${reportRow}`,
            caseId,
            reportRow,
            told: null,
            at,
          })),
        );
      }
    }
    await dropFacts(transaction, ids);
    return { count: facts.length, told: raised > 0 ? first.appId : null };
  });
  if (told !== null) changes.note(told);
  return count;
}

/** Of a muted case nobody wants to hear, and of one that is gone nothing can be said. */
async function withoutMuted(transaction: Transaction, facts: readonly KeptFact[]): Promise<KeptFact[]> {
  const heads = await loadCaseHeads(transaction, [...new Set(facts.map((one) => one.caseId))]);
  const heard = new Set(heads.filter(({ state }) => state !== 'muted').map(({ id }) => id));
  return facts.filter(({ caseId }) => heard.has(caseId));
}
