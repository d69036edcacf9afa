import { type AlertRule, alertKinds, scopeOfRule } from '@rough-ember/core/alerts/alert-rule';
import { dueTime } from '@rough-ember/core/alerts/due-time';
import { dayMs } from '@rough-ember/core/durations';
import { lastWeeks } from '@rough-ember/core/report-index/weeks-of-cases';
import type { Scope } from '@rough-ember/core/scope/scope';
import { spanOf } from '@rough-ember/core/session-index/window';
import { freeLookedAt } from '@rough-ember/core/stability/share-looked-at';
import type { App } from '@rough-ember/store/apps';
import { listTurns } from '@rough-ember/store/case-events';
import { loadCaseHeads } from '@rough-ember/store/cases';
import { ApiError } from '../errors.ts';
import type { DeskServices } from '../services.ts';
import { loadStabilitySettings } from '../stability/settings.ts';
import { rememberedMs } from './looks.ts';

/** What a rule would have told. */
export interface TriedRule {
  /** Days of history; 0 where the rule cannot be tried on it. */
  readonly days: number;
  readonly alerts: number;
  /** Messages that they would have come in, in the zone of the app. */
  readonly messages: number;
  /** The newest ones first. */
  readonly newest: readonly { readonly at: string; readonly headline: string; readonly path: string }[];
  /** Why nothing can be said. */
  readonly problem: string | null;
}

interface Told {
  readonly at: number;
  readonly caseId: number | null;
}

const shown = 12;
/** More would be told by no rule that is kept. */
const mostTold = 5_000;

/** Tries a rule on the history of an app. */
export async function tryRule(services: DeskServices, app: App, rule: AlertRule, now: Date): Promise<TriedRule> {
  const days = alertKinds[rule.what.kind].historyDays;
  const nothing = { days, alerts: 0, messages: 0, newest: [], problem: null };
  if (days === 0) return { ...nothing, problem: 'What this rule goes by is not kept, so it cannot be tried on what was.' };
  const scope = scopeOfRule(rule, 30);
  if (!scope.ok) throw new ApiError('bad-request', scope.problem.message);
  const found = await findTold(services, app, rule, scope.value, now);
  if (typeof found === 'string') return { ...nothing, problem: found };
  const { told, all } = found;
  return { ...nothing, alerts: all, messages: countMessages(app, rule, told), newest: await nameTold(services, app, rule, told) };
}

async function findTold(
  services: DeskServices,
  app: App,
  { what }: AlertRule,
  scope: Scope,
  now: Date,
): Promise<{ told: Told[]; all: number } | string> {
  const { reports, database } = services;
  const since = now.getTime() - 30 * dayMs;
  const whole = (told: Told[]) => ({ told: told.sort((a, b) => a.at - b.at), all: told.length });
  switch (what.kind) {
    case 'case-begins': {
      const { cases } = await reports.ask('countCases', app.id, scope, now.getTime());
      const began = await reports.ask(
        'beginningsOf',
        app.id,
        cases.map((one) => one.caseId),
      );
      // Its very first report decides whether a rule is met.
      return whole(
        cases
          .filter(({ caseId, firstAt }) => firstAt >= since && began.get(caseId) === firstAt)
          .map(({ caseId, firstAt }) => ({ at: firstAt, caseId })),
      );
    }
    case 'case-returns': {
      const [{ cases }, turns] = await Promise.all([
        reports.ask('countCases', app.id, scope, now.getTime()),
        listTurns(database, app.id, new Date(since)),
      ]);
      const held = new Set(cases.map((one) => one.caseId));
      return whole(
        turns.filter(({ kind, caseId }) => kind === 'reopened' && held.has(caseId)).map(({ at, caseId }) => ({ at: at.getTime(), caseId })),
      );
    }
    case 'report': {
      const { moments, all } = await reports.ask('reportMoments', app.id, scope, now.getTime(), mostTold);
      return { told: [...moments], all };
    }
    case 'count':
      return whole((await reports.ask('timesOfBound', app.id, scope, now.getTime(), what)).map((at) => ({ at, caseId: null })));
    case 'case-worse':
      return whole(await tellingDays(now, what.kind, (today) => worseOn(services, app, scope, today)));
    case 'crash-free': {
      const { targetPercent } = await loadStabilitySettings(services, app);
      if (targetPercent === null) return 'The app has no target; set one on Crash-free.';
      return whole(
        await tellingDays(now, what.kind, async (today) => {
          const { total } = await services.sessions.ask('matrix', app.id, scope, { first: today - 7, last: today - 1 }, null, null);
          return total.sessions > 0 && freeLookedAt(total).high < targetPercent / 100 ? [null] : [];
        }),
      );
    }
    default:
      return whole([]);
  }
}

/** What looks on each of the last days would have found, each thing once for as long as it stays so. */
async function tellingDays(
  now: Date,
  kind: 'case-worse' | 'crash-free',
  lookOn: (today: number) => Promise<readonly (number | null)[]>,
): Promise<Told[]> {
  const last = spanOf({ days: 1 }, now.getTime()).last;
  const standing = new Map<number | null, number>();
  const told: Told[] = [];
  for (let today = last - 29; today <= last; today++) {
    const found = new Set(await lookOn(today));
    const at = today * dayMs;
    for (const [name, toldAt] of standing) if (!found.has(name) && toldAt < at - rememberedMs(kind)) standing.delete(name);
    for (const caseId of found) {
      if (standing.has(caseId)) continue;
      standing.set(caseId, at);
      told.push({ at, caseId });
    }
  }
  return told;
}

async function worseOn({ reports, sessions }: DeskServices, app: App, scope: Scope, today: number): Promise<number[]> {
  const weeks = lastWeeks(today);
  const [week = [], weekBefore = []] = await Promise.all(
    [weeks.week, weeks.weekBefore].map((span) => sessions.ask('sessionsOfVersions', app.id, scope, span)),
  );
  return reports.ask('casesToTellOf', app.id, scope, today, { week, weekBefore });
}

function countMessages(app: App, { pace }: AlertRule, told: readonly Told[]): number {
  const calendar = { zone: app.zone ?? 'UTC', quiet: null };
  let messages = 0;
  let last: number | null = null;
  for (const { at } of told) {
    const due = dueTime(at, pace, calendar, last);
    if (due !== last) messages++;
    last = due;
  }
  return messages;
}

async function nameTold({ database }: DeskServices, app: App, { what }: AlertRule, told: readonly Told[]): Promise<TriedRule['newest']> {
  const newest = told.slice(-shown).reverse();
  const heads = new Map(
    (await loadCaseHeads(database, [...new Set(newest.flatMap(({ caseId }) => caseId ?? []))])).map((head) => [head.id, head]),
  );
  return newest.flatMap(({ at, caseId }) => {
    const time = new Date(at).toISOString();
    if (caseId === null) {
      const [headline, path] = what.kind === 'crash-free' ? ['Below the target', 'crash-free'] : ['The bound was passed', 'cases'];
      return [{ at: time, headline, path: `/apps/${app.slug}/${path}` }];
    }
    const head = heads.get(caseId);
    if (!head) return [];
    const ref = `${app.prefix}-${head.number}`;
    return [{ at: time, headline: `${ref} ${head.what} in ${head.where}`, path: `/apps/${app.slug}/cases/${ref}?last=all` }];
  });
}
