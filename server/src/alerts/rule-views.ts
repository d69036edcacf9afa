import { type AlertRule, alertKinds, type alertRuleSchema, narrowedWhere, scopeOfRule } from '@rough-ember/core/alerts/alert-rule';
import { openings } from '@rough-ember/core/alerts/kind-words';
import { wordRule } from '@rough-ember/core/alerts/word-rule';
import { listAlertAccounts } from '@rough-ember/store/accounts';
import { addAlertRule, changeAlertRule, type KeptRule, listAlertRules, mostRules, removeAlertRule } from '@rough-ember/store/alert-rules';
import { listAlerts } from '@rough-ember/store/alerts';
import type { App } from '@rough-ember/store/apps';
import { loadCaseHeads, whereCasesLead } from '@rough-ember/store/cases';
import { type Channel, listChannels } from '@rough-ember/store/channels';
import { listMessages, type MessageState } from '@rough-ember/store/messages';
import { z } from 'zod';
import { reaches } from '../accounts/reach.ts';
import { ApiError } from '../errors.ts';
import type { Services } from '../services.ts';
import { loadStabilitySettings } from '../stability/settings.ts';
import { type ChannelKindName, channelKinds } from './channels/channel-kinds.ts';

/** A rule as it is shown. Times are ISO texts in UTC. */
export interface RuleView {
  readonly id: number;
  readonly rule: AlertRule;
  readonly sentence: string;
  /** Mail address; empty for a rule that the app began with. */
  readonly madeBy: string;
  readonly lastAlertAt: string | null;
  /** Why the last look could say nothing. */
  readonly problem: string | null;
}

/** A channel as everybody sees it who sees the app. */
export interface ChannelView {
  readonly id: number;
  readonly name: string;
  readonly kind: string;
  readonly leadsTo: string;
  readonly mayReachPrivate: boolean;
  readonly madeBy: string;
  readonly lastSentAt: string | null;
  readonly failingSince: string | null;
  readonly problem: string | null;
}

/** The rules of an app with all that one needs to change them. */
export interface RuleList {
  readonly rules: readonly RuleView[];
  readonly channels: readonly ChannelView[];
  /** Who sees the app. */
  readonly people: readonly { readonly email: string; readonly name: string }[];
  /** Whether this server sends mail. */
  readonly sendsMail: boolean;
  readonly targetPercent: number | null;
  readonly now: string;
}

const iso = (at: Date | null): string | null => at?.toISOString() ?? null;

const toRuleView = ({ id, rule, madeBy, lastAlertAt, problem }: KeptRule, nameOf: (channel: number) => string | undefined): RuleView => ({
  id,
  rule,
  sentence: wordRule(rule, nameOf),
  madeBy,
  lastAlertAt: iso(lastAlertAt),
  problem,
});

export const toChannelView = (channel: Channel): ChannelView => {
  const { id, name, kind, settings, mayReachPrivate, madeBy, lastSentAt, failingSince, problem } = channel;
  const known = channelKinds[kind as ChannelKindName];
  const parsed = known?.settings.safeParse(settings);
  return {
    id,
    name,
    kind,
    leadsTo: parsed?.success ? known.leadsTo(parsed.data) : 'a place that this version of the program does not know',
    mayReachPrivate,
    madeBy,
    lastSentAt: iso(lastSentAt),
    failingSince: iso(failingSince),
    problem,
  };
};

/** The rules of an app, the first one made first. */
export async function loadRules(services: Pick<Services, 'database' | 'mailer'>, app: App, now: Date): Promise<RuleList> {
  const { database, mailer } = services;
  const [rules, channels, accounts, { targetPercent }] = await Promise.all([
    listAlertRules(database, app.id),
    listChannels(database, app.id),
    listAlertAccounts(database),
    loadStabilitySettings(services, app),
  ]);
  const nameOf = (id: number) => channels.find((one) => one.id === id)?.name;
  return {
    rules: rules.map((one) => toRuleView(one, nameOf)),
    channels: channels.map(toChannelView),
    people: accounts.filter((one) => reaches(one, app.id)).map(({ email, name }) => ({ email, name })),
    sendsMail: mailer !== null,
    targetPercent,
    now: now.toISOString(),
  };
}

type GivenRule = z.infer<typeof alertRuleSchema>;

/** What a rule is kept as: its scope in the shortest form, and channels of this very app. */
export async function checkedRule({ database }: Pick<Services, 'database'>, app: App, rule: GivenRule): Promise<AlertRule> {
  const scope = scopeOfRule(rule);
  if (!scope.ok) throw new ApiError('bad-request', `where: ${scope.problem.message}.`);
  const known = new Set((await listChannels(database, app.id)).map((one) => one.id));
  const unknown = rule.whom.channels.find((id) => !known.has(id));
  if (unknown !== undefined) throw new ApiError('bad-request', `whom: ${app.name} has no channel ${unknown}.`);
  return { ...rule, where: alertKinds[rule.what.kind].hasScope ? narrowedWhere(scope.value) : '' };
}

/** Keeps a rule. */
export async function addRule(
  services: Pick<Services, 'database' | 'changes'>,
  app: App,
  rule: GivenRule,
  by: string,
): Promise<{ id: number }> {
  const id = await addAlertRule(services.database, app.id, await checkedRule(services, app, rule), by);
  if (id === null)
    throw new ApiError('bad-request', `${app.name} has ${mostRules} rules, which is as many as there can be. Drop one first.`);
  services.changes.note(app.id);
  return { id };
}

const noRule = () => new ApiError('not-found', 'There is no such rule; somebody may have dropped it. Load the page again.');

export async function changeRule(services: Pick<Services, 'database' | 'changes'>, app: App, id: number, rule: GivenRule): Promise<void> {
  if (!(await changeAlertRule(services.database, app.id, id, await checkedRule(services, app, rule)))) throw noRule();
  services.changes.note(app.id);
}

export async function dropRule({ database, changes }: Pick<Services, 'database' | 'changes'>, app: App, id: number): Promise<void> {
  if (!(await removeAlertRule(database, app.id, id))) throw noRule();
  changes.note(app.id);
}

/** One thing that a rule told. */
export interface AlertView {
  readonly id: number;
  readonly ruleId: number;
  readonly at: string;
  readonly headline: string;
  readonly path: string;
}

export const alertsQuerySchema = z.object({
  before: z.coerce.number().int().min(1).optional().describe('Only what came before the one of this number.'),
  rule: z.coerce.number().int().min(1).optional().describe('Only what this rule told.'),
});

const shownAlerts = 50;

/** What the rules of an app told, the newest first. */
export async function loadAlerts(
  { database }: Pick<Services, 'database'>,
  app: App,
  { before, rule }: z.infer<typeof alertsQuerySchema>,
): Promise<{ alerts: AlertView[]; more: boolean }> {
  const found = await listAlerts(database, app.id, { before, ruleId: rule, limit: shownAlerts + 1 });
  const leads = await whereCasesLead(database, [...new Set(found.flatMap(({ caseId }) => caseId ?? []))]);
  const heads = new Map((await loadCaseHeads(database, [...new Set(leads.values())])).map((head) => [head.id, head]));
  const alerts = found.slice(0, shownAlerts).flatMap(({ id, ruleId, at, kind, caseId, told }): AlertView[] => {
    const about = { id, ruleId, at: at.toISOString() };
    if (caseId === null) return told === null ? [] : [{ ...about, headline: told.headline, path: told.path }];
    const head = heads.get(leads.get(caseId) ?? caseId);
    if (!head) return [];
    const ref = `${app.prefix}-${head.number}`;
    return [
      { ...about, headline: `${openings[kind]}: ${ref} ${head.what} in ${head.where}`, path: `/apps/${app.slug}/cases/${ref}?last=all` },
    ];
  });
  return { alerts, more: found.length > shownAlerts };
}

/** A message of the outbox. */
export interface MessageView {
  readonly id: number;
  readonly subject: string;
  /** Name of the channel, or mail address. */
  readonly to: string;
  readonly state: MessageState;
  readonly attempts: number;
  readonly madeAt: string;
  readonly sentAt: string | null;
  readonly answer: string | null;
}

const shownMessages = 50;

/** The newest messages of an app, on their way, delivered or given up. */
export async function loadMessages({ database }: Pick<Services, 'database'>, app: App): Promise<MessageView[]> {
  const [messages, channels, accounts] = await Promise.all([
    listMessages(database, app.id, shownMessages),
    listChannels(database, app.id),
    listAlertAccounts(database),
  ]);
  const nameOf = ({ channelId, accountId }: (typeof messages)[number]['to']) =>
    (channelId === null ? accounts.find(({ id }) => id === accountId)?.email : channels.find(({ id }) => id === channelId)?.name) ?? 'gone';
  return messages.map(({ id, message, to, state, attempts, madeAt, sentAt, answer }) => ({
    id,
    subject: message.subject,
    to: nameOf(to),
    state,
    attempts,
    madeAt: madeAt.toISOString(),
    sentAt: iso(sentAt),
    answer,
  }));
}
