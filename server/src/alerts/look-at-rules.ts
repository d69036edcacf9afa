import { isInForce } from '@rough-ember/core/alerts/alert-rule';
import { finishLook, type KeptRule, lockRules, type Standing, takeRulesToLookAt } from '@rough-ember/store/alert-rules';
import { findAppById } from '@rough-ember/store/apps';
import { inTransaction } from '@rough-ember/store/database';
import { reasonOf } from '@rough-ember/store/database-errors';
import type { Services } from '../services.ts';
import { loadAudience } from './load-audience.ts';
import { type Look, lookFor, rememberedMs } from './looks.ts';
import { raiseAlerts } from './raise-alerts.ts';

const rulesAtOnce = 50;

type LookServices = Pick<Services, 'database' | 'reports' | 'sessions' | 'mailer' | 'log'>;

/** Looks at the rules of one app that are due; gives how many that were. A rule that fails says so, and costs the others nothing. */
export async function lookAtRules(services: LookServices, now: Date): Promise<number> {
  const rules = await takeRulesToLookAt(services.database, rulesAtOnce);
  // Rules that ask the same are answered once.
  const answers = new Map<string, Promise<Look>>();
  for (const kept of rules) {
    const app = await findAppById(services.database, kept.appId);
    if (!app) continue;
    const name = JSON.stringify([kept.rule.what, kept.rule.where]);
    const isLookedAt = isInForce(kept.rule, now.getTime());
    const answer = isLookedAt
      ? (answers.get(name) ?? lookFor(services, app, kept.rule, now))
      : Promise.resolve({ findings: [], problem: null });
    if (isLookedAt) answers.set(name, answer);
    await answer.then(
      (look) => keep(services, kept, look, now),
      (error: unknown) => {
        services.log.warn({ err: error, rule: kept.id }, 'a rule could not be looked at');
        return keep(services, kept, { findings: [], problem: `The last look failed: ${reasonOf(error)}` }, now, { isFailed: true });
      },
    );
  }
  return rules.length;
}

/** Tells what was found and not told yet, and keeps what was, in one transaction. */
async function keep(
  services: LookServices,
  { id, appId, rule }: KeptRule,
  { findings, problem }: Look,
  now: Date,
  { isFailed = false } = {},
): Promise<void> {
  await inTransaction(services.database, async (transaction) => {
    const audience = await loadAudience(services, transaction, appId);
    const [current] = await lockRules(transaction, [id]);
    // It may have been changed or dropped while it was looked at.
    if (!audience || !current || JSON.stringify(current.rule) !== JSON.stringify(rule)) return;
    const { kind } = rule.what;
    const standing: Standing = isFailed ? current.standing : stillStanding(current.standing, findings, now.getTime() - rememberedMs(kind));
    const fresh = findings.filter(({ name }) => !(name in standing));
    for (const { name } of fresh) standing[name] = now.getTime();
    await raiseAlerts(
      transaction,
      audience,
      current,
      fresh.map(({ name, caseId, told }) => ({ fact: `${name} ${now.getTime()}`.slice(-100), caseId, reportRow: null, told, at: now })),
    );
    await finishLook(transaction, { id, kind, standing, problem });
  });
}

/** What was told and still is so, or was so a while ago: it is not told again. */
function stillStanding(standing: Standing, findings: Look['findings'], since: number): Standing {
  const found = new Set(findings.map((one) => one.name));
  return Object.fromEntries(Object.entries(standing).filter(([name, toldAt]) => found.has(name) || toldAt >= since));
}
