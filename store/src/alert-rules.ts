import { type AlertKind, type AlertRule, alertKinds, alertRuleSchema, firstRules } from '@rough-ember/core/alerts/alert-rule';
import type { Knex } from 'knex';
import { z } from 'zod';
import type { Database } from './database.ts';
import { readStored, type StoredForm, writeStored } from './stored-json.ts';

const ruleForm: StoredForm<AlertRule> = { column: 'alert_rules.rule', upgrades: [], schema: alertRuleSchema };

/** What a look found, by the name of each thing: when it was told, milliseconds since 1970. */
const standingForm = {
  column: 'alert_rules.standing',
  upgrades: [],
  schema: z.record(z.string(), z.number()),
} satisfies StoredForm<unknown>;
export type Standing = z.infer<(typeof standingForm)['schema']>;

export interface KeptRule {
  readonly id: number;
  readonly appId: number;
  readonly rule: AlertRule;
  /** Mail address; empty for a rule that the app began with. */
  readonly madeBy: string;
  readonly madeAt: Date;
  readonly lastAlertAt: Date | null;
  /** Why the last look could say nothing. */
  readonly problem: string | null;
  readonly standing: Standing;
}

const columns = {
  id: 'id',
  appId: 'app_id',
  rule: 'rule',
  madeBy: 'made_by',
  madeAt: 'made_at',
  lastAlertAt: 'last_alert_at',
  problem: 'problem',
  standing: 'standing',
} as const;

type Row = Omit<KeptRule, 'rule' | 'standing'> & { readonly rule: unknown; readonly standing: unknown };

/** Rules that were read before, by their text: the same are read for every batch of reports. */
const readBefore = new Map<string, AlertRule>();
const mostReadBefore = 20_000;

function readRule(stored: unknown): AlertRule {
  const text = typeof stored === 'string' ? stored : JSON.stringify(stored);
  const known = readBefore.get(text);
  if (known) return known;
  const rule = readStored(ruleForm, stored);
  if (readBefore.size >= mostReadBefore) readBefore.clear();
  readBefore.set(text, rule);
  return rule;
}

const toRule = ({ rule, standing, ...row }: Row): KeptRule => ({
  ...row,
  rule: readRule(rule),
  standing: standing === null ? {} : readStored(standingForm, standing),
});

const rowOf = (rule: AlertRule, database: Database) => ({
  changed_at: database.raw('UTC_TIMESTAMP(6)'),
  kind: rule.what.kind,
  rule: writeStored(ruleForm, rule),
  problem: null,
  // What is looked at is looked at soon after a change, which then says whether it can be.
  next_look_at: alertKinds[rule.what.kind].looksEveryMinutes === null ? null : database.raw('UTC_TIMESTAMP(3)'),
});

/** The rules of an app, the first one made first. */
export async function listAlertRules(database: Database, appId: number): Promise<KeptRule[]> {
  return (await database('alert_rules').where({ app_id: appId }).orderBy('id').select<Row[]>(columns)).map(toRule);
}

export async function findAlertRule(database: Database, appId: number, id: number): Promise<KeptRule | null> {
  const row: Row | undefined = await database('alert_rules').where({ app_id: appId, id }).first(columns);
  return row ? toRule(row) : null;
}

/** Differs when a rule of some kinds of an app was made, changed or dropped. */
export async function stampOfRules(database: Database, appId: number, kinds: readonly AlertKind[]): Promise<string> {
  const [row] = await database('alert_rules')
    .where({ app_id: appId })
    .whereIn('kind', kinds)
    .select(database.raw('COUNT(*) AS rules, SUM(id) AS ids, CAST(MAX(changed_at) AS CHAR) AS changed'));
  return `${row.rules} ${row.ids} ${row.changed}`;
}

/** The rules of an app of some kinds. */
export async function listRulesOfKinds(
  database: Database,
  appId: number,
  kinds: readonly AlertKind[],
): Promise<Pick<KeptRule, 'id' | 'rule'>[]> {
  const rows: { id: number; rule: unknown }[] = await database('alert_rules')
    .where({ app_id: appId })
    .whereIn('kind', kinds)
    .orderBy('id')
    .select('id', 'rule');
  return rows.map(({ id, rule }) => ({ id, rule: readRule(rule) }));
}

/** Some rules, which stay as they are until the transaction ends: two processes tell by one after the other. Those that are gone are left out. */
export async function lockRules(transaction: Knex.Transaction, ids: readonly number[]): Promise<KeptRule[]> {
  return (await transaction('alert_rules').whereIn('id', ids).orderBy('id').forUpdate().select<Row[]>(columns)).map(toRule);
}

/** More would be rules that nobody reads. */
export const mostRules = 200;

/** Keeps a rule; null when the app has as many as it may have. */
export async function addAlertRule(database: Database, appId: number, rule: AlertRule, madeBy: string): Promise<number | null> {
  const [row] = await database('alert_rules').where({ app_id: appId }).count({ count: '*' });
  if (Number(row?.count) >= mostRules) return null;
  const [id] = await database('alert_rules').insert({ app_id: appId, made_by: madeBy, ...rowOf(rule, database) });
  return id as number;
}

/** Gives an app the rules that every app begins with. */
export async function addFirstRules(database: Database, appId: number): Promise<void> {
  for (const rule of firstRules) await addAlertRule(database, appId, rule, '');
}

/** Puts a rule in place of another; what that one told is not told again. False when it is not there. */
export async function changeAlertRule(database: Database, appId: number, id: number, rule: AlertRule): Promise<boolean> {
  return (await database('alert_rules').where({ app_id: appId, id }).update(rowOf(rule, database))) > 0;
}

export async function removeAlertRule(database: Database, appId: number, id: number): Promise<boolean> {
  return (await database('alert_rules').where({ app_id: appId, id }).delete()) > 0;
}

/** Whoever dies while looking leaves the look to the next after this. */
const lookLeaseSeconds = 120;

/** Takes some rules of one app that are due to be looked at; nobody else looks at them for a while. */
export async function takeRulesToLookAt(database: Database, limit: number): Promise<KeptRule[]> {
  return database.transaction(async (transaction) => {
    const due = () => transaction('alert_rules').whereRaw('next_look_at <= UTC_TIMESTAMP(3)').forUpdate().skipLocked();
    const first: { appId: number } | undefined = await due().orderBy('next_look_at').first({ appId: 'app_id' });
    if (!first) return [];
    const rows = await due().where({ app_id: first.appId }).orderBy('id').limit(limit).select<Row[]>(columns);
    await transaction('alert_rules')
      .whereIn(
        'id',
        rows.map((row) => row.id),
      )
      .update({ next_look_at: transaction.raw('UTC_TIMESTAMP(3) + INTERVAL ? SECOND', [lookLeaseSeconds]) });
    return rows.map(toRule);
  });
}

/** Keeps what a look found, in the transaction of the alerts that it made; it is due again after the time of its kind. */
export async function finishLook(
  transaction: Database,
  {
    id,
    kind,
    standing,
    problem,
  }: { readonly id: number; readonly kind: AlertKind; readonly standing: Standing; readonly problem: string | null },
): Promise<void> {
  await transaction('alert_rules')
    .where({ id })
    .update({
      standing: writeStored(standingForm, standing),
      problem: problem?.slice(0, 500) ?? null,
      next_look_at: transaction.raw('UTC_TIMESTAMP(3) + INTERVAL ? MINUTE', [alertKinds[kind].looksEveryMinutes ?? 0]),
    });
}
