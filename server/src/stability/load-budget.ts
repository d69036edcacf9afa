import type { Scope } from '@rough-ember/core/scope/scope';
import { spanOf } from '@rough-ember/core/session-index/window';
import type { BadEnds } from '@rough-ember/core/stability/figures';
import { monthOf, type TargetBudget, targetBudget } from '@rough-ember/core/stability/target-budget';
import type { App } from '@rough-ember/store/apps';
import type { DeskServices } from '../services.ts';

/** Whole days whose rate is taken to go on. */
const recentDays = 7;

/** What the target of an app allows in this month for the sessions of a scope, whatever its window; null without a target or a session. */
export async function loadBudget(
  { sessions }: Pick<DeskServices, 'sessions'>,
  { app, scope, badEnds, now }: { readonly app: App; readonly scope: Scope; readonly badEnds: BadEnds; readonly now: Date },
  targetPercent: number | null,
): Promise<TargetBudget | null> {
  if (targetPercent === null) return null;
  const today = spanOf({ days: 1 }, now.getTime()).last;
  const spans = { month: { first: monthOf(today).first, last: today }, recent: { first: today - recentDays, last: today - 1 } };
  const { soFar, recent } = await sessions.ask('towardsTarget', app.id, scope, spans, badEnds);
  return targetBudget({ soFar, recent, recentDays }, { targetPercent, badEnds, now: now.getTime() });
}
