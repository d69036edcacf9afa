import type { AlertRule } from '@rough-ember/core/alerts/alert-rule';
import { type Calendar, dueTime } from '@rough-ember/core/alerts/due-time';
import type { AlertAccount } from '@rough-ember/store/accounts';
import type { KeptRule } from '@rough-ember/store/alert-rules';
import { type Alert, addAlerts, addDeliveries, lastDueAt, type NewAlert, type Recipient, tellOnPage } from '@rough-ember/store/alerts';
import type { App } from '@rough-ember/store/apps';
import { loadCaseHeads } from '@rough-ember/store/cases';
import type { Channel } from '@rough-ember/store/channels';
import type { Transaction } from '@rough-ember/store/database';

/** Whoever may be told of an app. */
export interface Audience {
  readonly app: App;
  /** Those who see the app. */
  readonly people: readonly AlertAccount[];
  readonly channels: readonly Channel[];
  /** Whether the server sends mail. */
  readonly sendsMail: boolean;
}

/**
 * Keeps what a rule tells, and whom it is told when, in the transaction of the facts or of the look. What it told before is not told again.
 * Gives how many alerts are new.
 */
export async function raiseAlerts(
  transaction: Transaction,
  { app, people, channels, sendsMail }: Audience,
  { id: ruleId, rule }: Pick<KeptRule, 'id' | 'rule'>,
  found: readonly Omit<NewAlert, 'ruleId' | 'appId' | 'kind'>[],
): Promise<number> {
  const alerts = await addAlerts(
    transaction,
    found.map((one) => ({ ...one, ruleId, appId: app.id, kind: rule.what.kind })),
  );
  if (alerts.length === 0) return 0;
  const told = await peopleOf(transaction, rule.whom.people, people, alerts);
  for (const [account, ofAccount] of told) {
    await tellOnPage(transaction, ofAccount, [account.id]);
    if (!sendsMail || !account.wantsMail) continue;
    const calendar = { zone: account.zone ?? app.zone ?? 'UTC', quiet: account.quiet };
    await deliver(transaction, { ruleId, app, rule, alertIds: ofAccount, to: { channelId: null, accountId: account.id }, calendar });
  }
  for (const { id } of channels.filter((one) => rule.whom.channels.includes(one.id)))
    await deliver(transaction, {
      ruleId,
      app,
      rule,
      alertIds: alerts.map((one) => one.id),
      to: { channelId: id, accountId: null },
      calendar: { zone: app.zone ?? 'UTC', quiet: null },
    });
  return alerts.length;
}

/** Whom a rule tells of which alerts. Of a case that nobody looks after, everybody is told. */
async function peopleOf(
  transaction: Transaction,
  whom: AlertRule['whom']['people'],
  people: readonly AlertAccount[],
  alerts: readonly Alert[],
): Promise<Map<AlertAccount, number[]>> {
  const all = alerts.map((one) => one.id);
  if (whom === 'nobody') return new Map();
  if (whom === 'everybody') return new Map(people.map((one) => [one, all]));
  if (whom !== 'looking-after') return new Map(people.filter((one) => whom.includes(one.email)).map((one) => [one, all]));
  const heads = await loadCaseHeads(
    transaction,
    alerts.flatMap(({ caseId }) => caseId ?? []),
  );
  const assigneeOf = new Map(heads.map((head) => [head.id, head.assignee]));
  const told = new Map<AlertAccount, number[]>();
  for (const { id, caseId } of alerts) {
    const assignee = caseId === null ? null : (assigneeOf.get(caseId) ?? null);
    const theirs = people.filter((one) => one.email === assignee);
    for (const one of theirs.length > 0 ? theirs : people) told.set(one, [...(told.get(one) ?? []), id]);
  }
  return told;
}

async function deliver(
  transaction: Transaction,
  about: {
    readonly ruleId: number;
    readonly app: App;
    readonly rule: AlertRule;
    readonly alertIds: readonly number[];
    readonly to: Recipient;
    readonly calendar: Calendar;
  },
): Promise<void> {
  const { ruleId, app, rule, alertIds, to, calendar } = about;
  const last = await lastDueAt(transaction, ruleId, to);
  const dueAt = new Date(dueTime(Date.now(), rule.pace, calendar, last?.getTime() ?? null));
  await addDeliveries(
    transaction,
    alertIds.map((alertId) => ({ alertId, ruleId, appId: app.id, to, dueAt })),
  );
}
