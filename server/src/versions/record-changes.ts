import { type flagChangeSchema, type rolloutSchema, wordRolloutStep } from '@rough-ember/core/rollouts/rollouts';
import type { App } from '@rough-ember/store/apps';
import {
  addFlagChange,
  addRolloutStep,
  listFlagChanges,
  listRolloutSteps,
  removeFlagChange,
  removeRolloutStep,
} from '@rough-ember/store/rollouts';
import type { z } from 'zod';
import { ApiError } from '../errors.ts';
import type { Services } from '../services.ts';

type RecordServices = Pick<Services, 'database' | 'changes'>;

/** Records a step of a rollout. */
export async function recordRollout(
  { database, changes }: RecordServices,
  app: App,
  step: z.infer<typeof rolloutSchema> & { readonly by: string },
): Promise<{ id: number }> {
  const id = await addRolloutStep(database, app.id, { ...step, at: step.at ?? new Date().toISOString() });
  changes.note(app.id);
  return { id };
}

/** Records a change of a flag. */
export async function recordFlagChange(
  { database, changes }: RecordServices,
  app: App,
  change: z.infer<typeof flagChangeSchema> & { readonly by: string },
): Promise<{ id: number }> {
  const id = await addFlagChange(database, app.id, { ...change, at: change.at ?? new Date().toISOString() });
  changes.note(app.id);
  return { id };
}

/** Takes a record back that was made by mistake. */
export async function removeRecord({ database, changes }: RecordServices, app: App, what: 'rollout' | 'flag', id: number): Promise<void> {
  const removed = what === 'rollout' ? await removeRolloutStep(database, app.id, id) : await removeFlagChange(database, app.id, id);
  if (!removed)
    throw new ApiError('not-found', `There is no ${what === 'rollout' ? 'step of a rollout' : 'change of a flag'} of number ${id}.`);
  changes.note(app.id);
}

/** A moment at which something was changed that people may feel, to be marked on a chart of time. */
export interface TimeMark {
  /** ISO text in UTC. */
  readonly at: string;
  readonly kind: 'rollout' | 'flag' | 'case';
  /** What changed, and how: `4.3.1`, `to 20 %`. */
  readonly what: string;
  readonly how: string;
  /** The case it is about. */
  readonly ref?: string;
}

/** Everything that was changed of an app since a moment, the oldest first. */
export async function loadTimeMarks({ database }: Pick<Services, 'database'>, app: App, since: number): Promise<TimeMark[]> {
  const [steps, flags] = await Promise.all([listRolloutSteps(database, app.id), listFlagChanges(database, app.id)]);
  const marks: TimeMark[] = [
    ...steps.map((step) => ({ at: step.at, kind: 'rollout' as const, what: step.version, how: wordRolloutStep(step) })),
    ...flags.map(({ at, flag, variant, percent }) => ({
      at,
      kind: 'flag' as const,
      what: `flag ${flag}`,
      how: `${variant}${percent === null ? '' : ` for ${Number(percent.toFixed(2))} %`}`,
    })),
  ];
  return marks.filter((one) => Date.parse(one.at) >= since).sort((a, b) => a.at.localeCompare(b.at));
}
