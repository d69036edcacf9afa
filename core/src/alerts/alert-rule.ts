import { z } from 'zod';
import { defaultScope, parseScope, printScope, type Scope } from '../scope/scope.ts';

/** How the program comes to know of what a rule is about: as it happens, or by looking every so often. */
interface AlertKindFacts {
  readonly looksEveryMinutes: number | null;
  /** Whether each alert is about a case, which may be muted, closed or merged before anybody is told. */
  readonly isOfCase: boolean;
  /** Whether the scope of a rule narrows it; what is about an app as a whole has none. */
  readonly hasScope: boolean;
  /** Days of history on which a rule can be tried; 0 where what it goes by is not kept. */
  readonly historyDays: number;
}

const hourly = 60;
const daily = 24 * 60;

/** Every kind of rule. What is looked at rarely is what needs a whole day to be said of. */
export const alertKinds = {
  'case-begins': { looksEveryMinutes: null, isOfCase: true, hasScope: true, historyDays: 30 },
  'case-returns': { looksEveryMinutes: null, isOfCase: true, hasScope: true, historyDays: 30 },
  report: { looksEveryMinutes: null, isOfCase: true, hasScope: true, historyDays: 30 },
  'case-worse': { looksEveryMinutes: daily, isOfCase: true, hasScope: true, historyDays: 30 },
  count: { looksEveryMinutes: 1, isOfCase: false, hasScope: true, historyDays: 30 },
  'crash-free': { looksEveryMinutes: daily, isOfCase: false, hasScope: true, historyDays: 30 },
  budget: { looksEveryMinutes: daily, isOfCase: false, hasScope: true, historyDays: 0 },
  version: { looksEveryMinutes: hourly, isOfCase: false, hasScope: false, historyDays: 0 },
  symbols: { looksEveryMinutes: 10, isOfCase: false, hasScope: false, historyDays: 0 },
  silence: { looksEveryMinutes: 10, isOfCase: false, hasScope: false, historyDays: 0 },
  refusals: { looksEveryMinutes: 10, isOfCase: false, hasScope: false, historyDays: 0 },
  sheet: { looksEveryMinutes: hourly, isOfCase: false, hasScope: false, historyDays: 0 },
} as const satisfies Readonly<Record<string, AlertKindFacts>>;
export type AlertKind = keyof typeof alertKinds;
export const alertKindNames = Object.keys(alertKinds) as AlertKind[];

/** The kinds that are known as they happen. */
export const happeningKinds = alertKindNames.filter((kind) => alertKinds[kind].looksEveryMinutes === null);

const bare = <Kind extends AlertKind>(kind: Kind) => z.strictObject({ kind: z.literal(kind) });

/** What a rule is about, with the bounds that its kind has. */
export const alertSubjectSchema = z.discriminatedUnion('kind', [
  bare('case-begins'),
  bare('case-returns'),
  bare('report'),
  bare('case-worse'),
  z.strictObject({
    kind: z.literal('count'),
    of: z.enum(['reports', 'people']),
    atLeast: z.int().min(1).max(1_000_000_000),
    /** Days of UTC that are counted together: 1 is yesterday and today so far, which hold the last 24 hours. */
    days: z.union([z.literal(1), z.literal(7)]),
  }),
  bare('crash-free'),
  bare('budget'),
  bare('version'),
  z.strictObject({ kind: z.literal('symbols'), reports: z.int().min(1).max(1_000_000_000).default(1) }),
  z.strictObject({ kind: z.literal('silence'), hours: z.int().min(1).max(168) }),
  z.strictObject({ kind: z.literal('refusals'), percent: z.number().min(0.1).max(100).default(10) }),
  /** Its number, or the name of one that ships with the product. */
  z.strictObject({ kind: z.literal('sheet'), sheet: z.string().min(1).max(40) }),
]);
export type AlertSubject = z.infer<typeof alertSubjectSchema>;

const mailAddress = z.email().max(254);

/** Whom a rule tells: people who see the app, or some of them by their mail addresses; and channels by their numbers. */
export const recipientsSchema = z.strictObject({
  people: z.union([z.enum(['everybody', 'looking-after', 'nobody']), z.array(mailAddress).min(1).max(50)]),
  channels: z.array(z.int().min(1)).max(20).default([]),
});
export type Recipients = z.infer<typeof recipientsSchema>;

/** How often a rule tells. */
export const paceSchema = z.strictObject({
  when: z.enum(['at-once', 'hourly', 'daily']).default('at-once'),
  /** After a message at once, what follows is gathered for so long. */
  everyMinutes: z.int().min(1).max(1_440).default(15),
  workingDays: z.boolean().default(false),
});
export type Pace = z.infer<typeof paceSchema>;

/** A rule: what, where, whom, how often, until when. */
export const alertRuleSchema = z
  .strictObject({
    what: alertSubjectSchema,
    /** A scope as address parameters; its window and the states of cases say nothing here. */
    where: z.string().max(6_000).default(''),
    whom: recipientsSchema,
    pace: paceSchema.prefault({}),
    until: z.iso.datetime().nullable().default(null),
    paused: z.boolean().default(false),
  })
  .refine(({ whom }) => whom.people !== 'nobody' || whom.channels.length > 0, {
    path: ['whom'],
    error: 'it must tell somebody: choose people or a channel',
  });
export type AlertRule = z.infer<typeof alertRuleSchema>;

/** The scope of a rule as it is counted, over some days; what an address of a later version has and this one does not know is an error. */
export function scopeOfRule(rule: Pick<AlertRule, 'what' | 'where'>, days: Scope['days'] = null): ReturnType<typeof parseScope> {
  const parsed = parseScope(new URLSearchParams(rule.where));
  if (!parsed.ok) return parsed;
  return { ok: true, value: { ...parsed.value, days, cases: 'any', assignee: 'anybody' } };
}

/** The address parameters of a rule's scope that say anything, in the shortest form. */
export const narrowedWhere = (scope: Scope): string =>
  printScope({ ...scope, days: defaultScope.days, cases: defaultScope.cases, assignee: defaultScope.assignee });

/** Whether a rule tells at a moment, in milliseconds since 1970. */
export const isInForce = ({ paused, until }: Pick<AlertRule, 'paused' | 'until'>, now: number): boolean =>
  !paused && (until === null || Date.parse(until) > now);

/** The rules that an app begins with: crashes that are new or came back at once, what needs a longer look once a day, nothing for handled errors. */
export const firstRules: readonly AlertRule[] = [
  { kind: 'case-begins', when: 'at-once' },
  { kind: 'case-returns', when: 'at-once' },
  { kind: 'case-worse', when: 'daily' },
  { kind: 'crash-free', when: 'daily' },
].map(({ kind, when }) => alertRuleSchema.parse({ what: { kind }, where: 'kind=crash', whom: { people: 'everybody' }, pace: { when } }));
