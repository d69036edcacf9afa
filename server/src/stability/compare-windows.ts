import type { Scope } from '@rough-ember/core/scope/scope';
import type { DaySpan } from '@rough-ember/core/session-index/session-rows';
import { type Comparison, compareSides } from '@rough-ember/core/stability/comparison';
import { type BadEnds, onlyCrashes } from '@rough-ember/core/stability/figures';
import type { App } from '@rough-ember/store/apps';
import type { DeskServices } from '../services.ts';

/** How the sessions, and the persons, of some days do against those of earlier ones. */
export interface WindowComparison {
  readonly comparison: Comparison;
  readonly personsComparison: Comparison;
  /** A sample of persons stands for all. */
  readonly isSample: boolean;
}

/** Compares the sessions of a scope in two windows, as somebody does who looks once. */
export async function compareWindows(
  { sessions }: Pick<DeskServices, 'sessions'>,
  { app, scope, badEnds = onlyCrashes }: { readonly app: App; readonly scope: Scope; readonly badEnds?: BadEnds },
  spans: { readonly newer: DaySpan; readonly older: DaySpan },
): Promise<WindowComparison> {
  const sides = { newer: { scope, span: spans.newer }, older: { scope, span: spans.older } };
  const counted = await sessions.ask('sides', app.id, sides, { badEnds });
  return {
    comparison: compareSides(counted.sessions),
    personsComparison: compareSides(counted.persons),
    isSample: counted.sampling === 'sample',
  };
}
