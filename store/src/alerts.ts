import type { AlertKind } from '@rough-ember/core/alerts/alert-rule';
import type { Knex } from 'knex';
import { z } from 'zod';
import type { Database } from './database.ts';
import { insertRows } from './insert-rows.ts';
import { readStored, type StoredForm, writeStored } from './stored-json.ts';

/** What is told where an alert is about no case. */
const toldForm = {
  column: 'alerts.told',
  upgrades: [],
  schema: z.object({
    headline: z.string(),
    facts: z.array(z.string()),
    /** Path of the page that shows it. */
    path: z.string(),
    version: z.string().nullable(),
  }),
} satisfies StoredForm<unknown>;
export type ToldFact = z.infer<(typeof toldForm)['schema']>;

export const readToldFact = (stored: unknown): ToldFact => readStored(toldForm, stored);

/** One thing that a rule tells. */
export interface NewAlert {
  readonly ruleId: number;
  readonly appId: number;
  readonly kind: AlertKind;
  /** Names what is told: a rule tells it once. */
  readonly fact: string;
  readonly caseId: number | null;
  readonly reportRow: number | null;
  readonly told: ToldFact | null;
  readonly at: Date;
}

export interface Alert extends NewAlert {
  readonly id: number;
}

const columns = {
  id: 'alerts.id',
  ruleId: 'alerts.rule_id',
  appId: 'alerts.app_id',
  kind: 'alerts.kind',
  fact: 'alerts.fact',
  caseId: 'alerts.case_id',
  reportRow: 'alerts.report_row',
  told: 'alerts.told',
  at: 'alerts.at',
} as const;

type Row = Omit<Alert, 'told'> & { readonly told: unknown };
const toAlert = ({ told, ...row }: Row): Alert => ({ ...row, told: told === null ? null : readToldFact(told) });

/** Keeps alerts, each once for its rule; gives those that are new. */
export async function addAlerts(transaction: Knex.Transaction, alerts: readonly NewAlert[]): Promise<Alert[]> {
  if (alerts.length === 0) return [];
  const rows = alerts.map(({ ruleId, appId, kind, fact, caseId, reportRow, told, at }) => ({
    rule_id: ruleId,
    app_id: appId,
    kind,
    fact,
    case_id: caseId,
    report_row: reportRow,
    told: told && writeStored(toldForm, told),
    at,
  }));
  const inserted = (await insertRows(transaction, 'alerts', rows, { ignoreKnown: true, behind: 'RETURNING id, rule_id, fact' })) as {
    id: number;
    rule_id: number;
    fact: string;
  }[];
  const idOf = new Map(inserted.map((row) => [`${row.rule_id} ${row.fact}`, row.id]));
  const made = alerts.flatMap((alert) => {
    const id = idOf.get(`${alert.ruleId} ${alert.fact}`);
    return id === undefined ? [] : [{ ...alert, id }];
  });
  const rules = [...new Set(made.map((one) => one.ruleId))];
  if (rules.length > 0)
    await transaction('alert_rules')
      .whereIn('id', rules)
      .update({ last_alert_at: transaction.raw('UTC_TIMESTAMP(3)') });
  return made;
}

/** Whom a message goes to: a channel, or somebody by mail. */
export type Recipient = { readonly channelId: number; readonly accountId: null } | { readonly channelId: null; readonly accountId: number };

export interface Delivery {
  readonly alertId: number;
  readonly ruleId: number;
  readonly appId: number;
  readonly to: Recipient;
  readonly dueAt: Date;
}

export const addDeliveries = (transaction: Knex.Transaction, deliveries: readonly Delivery[]): Promise<unknown> =>
  insertRows(
    transaction,
    'deliveries',
    deliveries.map(({ alertId, ruleId, appId, to, dueAt }) => ({
      alert_id: alertId,
      rule_id: ruleId,
      app_id: appId,
      channel_id: to.channelId,
      account_id: to.accountId,
      due_at: dueAt,
    })),
  );

/** When a recipient was, or will be, told by a rule the last time; null when never. */
export async function lastDueAt(transaction: Database, ruleId: number, to: Recipient): Promise<Date | null> {
  const [row] = await transaction('deliveries')
    .where({ rule_id: ruleId, channel_id: to.channelId, account_id: to.accountId })
    .max({ at: 'due_at' });
  return row?.at ?? null;
}

/** People are told on their own page, too. */
export async function tellOnPage(transaction: Knex.Transaction, alertIds: readonly number[], accountIds: readonly number[]): Promise<void> {
  const rows = alertIds.flatMap((alert_id) => accountIds.map((account_id) => ({ account_id, alert_id, reason: 'rule' })));
  await insertRows(transaction, 'told', rows, { ignoreKnown: true });
}

/** What one recipient is to be told now, of one app; locked until the transaction ends. Null when nobody is. */
export async function takeDue(
  transaction: Knex.Transaction,
): Promise<{ readonly to: Recipient; readonly appId: number; readonly deliveryIds: number[]; readonly alerts: Alert[] } | null> {
  const due = () => transaction('deliveries').where('is_done', false).whereRaw('due_at <= UTC_TIMESTAMP(3)').forUpdate().skipLocked();
  const first: { channelId: number | null; accountId: number | null; appId: number } | undefined = await due()
    .orderBy('due_at')
    .first({ channelId: 'channel_id', accountId: 'account_id', appId: 'app_id' });
  if (!first) return null;
  const { appId, channelId, accountId } = first;
  const rows: { id: number; alertId: number }[] = await due()
    .where({ app_id: appId, channel_id: channelId, account_id: accountId })
    .orderBy('id')
    .limit(mostAlerts)
    .select({ id: 'id', alertId: 'alert_id' });
  const alerts: Row[] = await transaction('alerts')
    .whereIn(
      'id',
      rows.map((row) => row.alertId),
    )
    .orderBy('id')
    .select(columns);
  return { to: { channelId, accountId } as Recipient, appId, deliveryIds: rows.map((row) => row.id), alerts: alerts.map(toAlert) };
}

/** Of one message. */
const mostAlerts = 2_000;

export const markDelivered = (transaction: Knex.Transaction, ids: readonly number[], messageRow: number | null): Promise<number> =>
  transaction('deliveries').whereIn('id', ids).update({ is_done: true, message_row: messageRow });

/** What is due is due so many minutes later. */
export const putOff = (transaction: Knex.Transaction, ids: readonly number[], minutes: number): Promise<number> =>
  transaction('deliveries')
    .whereIn('id', ids)
    .update({ due_at: transaction.raw('UTC_TIMESTAMP(3) + INTERVAL ? MINUTE', [minutes]) });

/** What rules of an app told, the newest first, at most so many before one. */
export async function listAlerts(
  database: Database,
  appId: number,
  { before, limit, ruleId }: { readonly before?: number | undefined; readonly limit: number; readonly ruleId?: number | undefined },
): Promise<Alert[]> {
  const rows: Row[] = await database('alerts')
    .where({ 'alerts.app_id': appId })
    .modify((query) => void (before === undefined ? query : query.where('alerts.id', '<', before)))
    .modify((query) => void (ruleId === undefined ? query : query.where({ rule_id: ruleId })))
    .orderBy('alerts.id', 'desc')
    .limit(limit)
    .select(columns);
  return rows.map(toAlert);
}

/** Drops what was told so long ago that nobody looks it up; gives how much went. */
export async function pruneAlerts(database: Database, before: Date, limit: number): Promise<number> {
  const messages: number = await database('messages').where('made_at', '<', before).whereNot({ state: 'waiting' }).limit(limit).delete();
  return messages + Number(await database('alerts').where('at', '<', before).limit(limit).delete());
}
