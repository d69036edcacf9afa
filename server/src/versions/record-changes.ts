import type { flagChangeSchema, rolloutSchema } from '@rough-ember/core/rollouts/rollouts';
import type { App } from '@rough-ember/store/apps';
import { addFlagChange, addRolloutStep, removeFlagChange, removeRolloutStep } from '@rough-ember/store/rollouts';
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
