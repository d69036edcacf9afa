import { type AlertKind, type AlertRule, scopeOfRule } from '@rough-ember/core/alerts/alert-rule';
import { sayAnswer } from '@rough-ember/core/ask/answer-words';
import { dayMs, hourMs } from '@rough-ember/core/durations';
import { lastWeeks } from '@rough-ember/core/report-index/weeks-of-cases';
import { defaultScope, printScope, type Scope, wordKinds } from '@rough-ember/core/scope/scope';
import { spanOf } from '@rough-ember/core/session-index/window';
import { wordCondition } from '@rough-ember/core/stability/check-words';
import { onlyCrashes } from '@rough-ember/core/stability/figures';
import { freeLookedAt } from '@rough-ember/core/stability/share-looked-at';
import { wordCount, wordNumber } from '@rough-ember/core/words/count';
import type { ToldFact } from '@rough-ember/store/alerts';
import type { App } from '@rough-ember/store/apps';
import { countIntakeHours } from '@rough-ember/store/intake-log';
import { listSymbolDemand } from '@rough-ember/store/symbol-files';
import { answerChart } from '../ask/answer-question.ts';
import { findTeamSheet } from '../ask/sheets.ts';
import type { DeskServices } from '../services.ts';
import { loadBudget } from '../stability/load-budget.ts';
import { loadStabilitySettings } from '../stability/settings.ts';
import { loadRolloutCheck, loadVersionList } from '../versions/load-versions.ts';

/** Something that is so at the moment. */
export interface Finding {
  /** The same for as long as it is the same thing. */
  readonly name: string;
  readonly caseId: number | null;
  readonly told: ToldFact | null;
}

/** What a look found, and why it could say nothing, where it could not. */
export interface Look {
  readonly findings: readonly Finding[];
  readonly problem: string | null;
}

type LookedAt = {
  [Kind in AlertKind]: (
    services: DeskServices,
    about: {
      readonly app: App;
      readonly what: Extract<AlertRule['what'], { kind: Kind }>;
      readonly scope: Scope;
      readonly now: Date;
    },
  ) => Promise<readonly Finding[] | string>;
};

/** How long what was told and is not so any more is remembered, so that what wavers about a bound is told once, in days. */
export const rememberedDays: Readonly<Record<Exclude<AlertKind, 'case-begins' | 'case-returns' | 'report'>, number>> = {
  'case-worse': 14,
  count: 1,
  'crash-free': 14,
  budget: 31,
  version: 60,
  symbols: 14,
  silence: 0,
  refusals: 0.5,
  sheet: 14,
};

/** A message has room for so many of a sheet. */
const toldCharts = 8;

const percent = new Intl.NumberFormat('en-GB', { maximumFractionDigits: 2 });
/** With a space that no line breaks at. */
const wordPercent = (share: number): string => `${percent.format(100 * share)}\u00a0%`;

const looks: Pick<LookedAt, keyof typeof rememberedDays> = {
  'case-worse': async ({ reports, sessions }, { app, scope, now }) => {
    const today = spanOf({ days: 1 }, now.getTime()).last;
    const weeks = lastWeeks(today);
    const [week = [], weekBefore = []] = await Promise.all(
      [weeks.week, weeks.weekBefore].map((span) => sessions.ask('sessionsOfVersions', app.id, scope, span)),
    );
    const worse = await reports.ask('casesToTellOf', app.id, scope, today, { week, weekBefore });
    return worse.map((caseId) => ({ name: `case ${caseId}`, caseId, told: null }));
  },

  count: async ({ reports }, { app, what, scope, now }) => {
    const counted = { ...scope, days: what.days };
    const found = await reports.ask('countCases', app.id, counted, now.getTime());
    const count = what.of === 'people' ? found.people : found.reports;
    if (count < what.atLeast) return [];
    const since = what.days === 1 ? 'since yesterday' : 'in 7 days';
    const met = what.of === 'people' ? wordCount(count, 'person', 'people') : wordCount(count, 'report', 'reports');
    return [
      {
        name: 'passed',
        caseId: null,
        told: {
          headline: `${met} ${since}: ${wordKinds(scope.kinds).toLowerCase()}`,
          facts: [`The bound is ${wordNumber(what.atLeast)}.`, `${wordCount(found.cases.length, 'case', 'cases')} have them.`],
          path: `/apps/${app.slug}/cases?${printScope({ ...counted, cases: 'open' })}`,
          version: null,
        },
      },
    ];
  },

  'crash-free': async (services, { app, scope, now }) => {
    const { targetPercent } = await loadStabilitySettings(services, app);
    if (targetPercent === null) return 'The app has no target; set one on Crash-free.';
    const today = spanOf({ days: 1 }, now.getTime()).last;
    const { total } = await services.sessions.ask('matrix', app.id, scope, { first: today - 7, last: today - 1 }, null, null);
    const free = freeLookedAt(total);
    if (free.high >= targetPercent / 100) return [];
    return [
      {
        name: 'below',
        caseId: null,
        told: {
          headline: `${wordPercent(free.value)} of sessions are free of crashes; the target is ${wordPercent(targetPercent / 100)}`,
          facts: [
            `Surely no more than ${wordPercent(free.high)}: ${wordCount(total.sessions, 'session', 'sessions')} of the last 7 whole days, looked at every day.`,
          ],
          path: `/apps/${app.slug}/crash-free?${printScope({ ...scope, days: 7 })}`,
          version: null,
        },
      },
    ];
  },

  budget: async (services, { app, scope, now }) => {
    const { targetPercent } = await loadStabilitySettings(services, app);
    if (targetPercent === null) return 'The app has no target; set one on Crash-free.';
    const budget = await loadBudget(services, { app, scope, badEnds: onlyCrashes, now }, targetPercent);
    if (budget === null || (budget.verdict !== 'missed' && budget.verdict !== 'will-miss')) return [];
    const used = `${wordPercent(budget.used)} of what the target allows in this month is used up, ${wordPercent(budget.elapsed)} of the month is over.`;
    return [
      {
        name: `month ${budget.month.first} ${budget.verdict}`,
        caseId: null,
        told: {
          headline:
            budget.verdict === 'missed'
              ? `This month has missed its target of ${wordPercent(targetPercent / 100)}`
              : `This month will miss its target of ${wordPercent(targetPercent / 100)}`,
          facts: [used],
          path: `/apps/${app.slug}/crash-free?${printScope({ ...scope, days: 30 })}`,
          version: null,
        },
      },
    ];
  },

  version: async (services, { app, now }) => {
    const { versions } = await loadVersionList(services, app, now);
    const newest = versions.findLast((one) => one.counts.sessions > 0);
    if (!newest || newest.rollout.halted) return [];
    const check = await loadRolloutCheck(services, app, { version: newest.version, now });
    if (check.verdict !== 'stop') return [];
    return [
      {
        name: `version ${newest.version}`,
        caseId: null,
        told: {
          headline: `${newest.version} must not go further`,
          facts: check.conditions.filter((one) => one.outcome === 'not-met').map(wordCondition),
          path: `/apps/${app.slug}/versions`,
          version: newest.version,
        },
      },
    ];
  },

  symbols: async ({ database }, { app, what }) =>
    (await listSymbolDemand(database, app.id))
      .filter((one) => !one.found && one.reports >= what.reports)
      .map(({ kind, name, symbolId, version, build, reports }) => ({
        name: `${kind} ${symbolId ?? name ?? ''} ${version} ${build}`.slice(0, 80),
        caseId: null,
        told: {
          headline: `${version} (${build}) lacks ${name === null ? `its ${kind} file` : `the ${kind} file of ${name}`}: ${wordCount(reports, 'report', 'reports')} cannot be read`,
          facts: symbolId === null ? [] : [`Its id is ${symbolId}.`],
          path: `/apps/${app.slug}/symbols`,
          version,
        },
      })),

  silence: async ({ database }, { app, what, now }) => {
    const days = 14;
    const hours = await countIntakeHours(database, { appId: app.id, strangers: false, hours: days * 24, now });
    const came = new Set(hours.filter(({ counts }) => counts.accepted > 0).map((one) => one.hoursAgo));
    for (let ago = 0; ago < what.hours; ago++) if (came.has(ago)) return [];
    if (!alwaysCame(came, { hours: what.hours, of: days * 24 })) return [];
    return [
      {
        name: `since ${Math.floor((now.getTime() - Math.min(...came) * hourMs) / hourMs)}`,
        caseId: null,
        told: {
          headline: `Nothing came for ${wordCount(Math.min(...came), 'hour', 'hours')}`,
          facts: ['In the two weeks before, something came in every stretch as long.'],
          path: `/apps/${app.slug}/intake`,
          version: null,
        },
      },
    ];
  },

  sheet: async (services, { app, what, now }) => {
    const sheet = await findTeamSheet(services.database, app, what.sheet);
    if (sheet === null) return 'The sheet is gone, or is kept by somebody for themselves; choose another one.';
    const answers = await Promise.all(sheet.charts.slice(0, toldCharts).map((_, place) => answerChart(services, app, sheet, place, now)));
    const facts = answers.map(({ answer, question }, at) => `${sheet.charts[at]?.title}: ${sayAnswer(answer, question)}.`);
    // Weeks begin on Monday; 1970 began on a Thursday.
    const week = Math.floor((Math.floor(now.getTime() / dayMs) + 3) / 7);
    return [
      {
        name: `week ${week}`,
        caseId: null,
        told: { headline: sheet.title, facts, path: `/apps/${app.slug}/sheets/${what.sheet}`, version: null },
      },
    ];
  },

  refusals: async ({ database }, { app, what, now }) => {
    const [last] = (await countIntakeHours(database, { appId: app.id, strangers: false, hours: 1, now })).map((one) => one.counts);
    if (!last) return [];
    const all = Object.values(last).reduce((sum, count) => sum + count, 0);
    const refused = last.refused;
    if (refused < leastRefused || (100 * refused) / all <= what.percent) return [];
    return [
      {
        name: 'refusing',
        caseId: null,
        told: {
          headline: `Intake refused ${wordCount(refused, 'item', 'items')} in the last hour, ${wordPercent(refused / all)} of what was sent`,
          facts: ['Why stands on Intake.'],
          path: `/apps/${app.slug}/intake`,
          version: null,
        },
      },
    ];
  },
};

/** Fewer say nothing of what is usual. */
const leastRefused = 10;

/** Whether something came in every stretch of so many hours before the silence: at night some apps always sleep. */
function alwaysCame(came: ReadonlySet<number>, { hours, of }: { readonly hours: number; readonly of: number }): boolean {
  if (came.size === 0) return false;
  const oldest = Math.max(...came);
  // A day at least has to be known.
  if (oldest - Math.min(...came) < Math.max(24, 3 * hours)) return false;
  let without = 0;
  for (let ago = Math.min(...came); ago <= Math.min(oldest, of - 1); ago++) {
    without = came.has(ago) ? 0 : without + 1;
    if (without >= hours) return false;
  }
  return true;
}

/** Looks at what a rule is about. A rule that is known as things happen has nothing to look at. */
export async function lookFor(services: DeskServices, app: App, rule: AlertRule, now: Date): Promise<Look> {
  const scope = scopeOfRule(rule);
  if (!scope.ok) return { findings: [], problem: scope.problem.message };
  const look = (looks as Partial<LookedAt>)[rule.what.kind] as LookedAt['count'] | undefined;
  if (!look) return { findings: [], problem: null };
  const found = await look(services, { app, what: rule.what as never, scope: { ...defaultScope, ...scope.value }, now });
  return typeof found === 'string' ? { findings: [], problem: found } : { findings: found, problem: null };
}

/** When what was told is forgotten, in milliseconds. */
export const rememberedMs = (kind: AlertKind): number => ((rememberedDays as Partial<Record<AlertKind, number>>)[kind] ?? 0) * dayMs;
