import { parseScope, printScope } from '@rough-ember/core/scope/scope';
import type { App } from '@rough-ember/store/apps';
import { addView, listViews, removeView, type View } from '@rough-ember/store/views';
import { z } from 'zod';
import { ApiError } from '../errors.ts';
import type { Services } from '../services.ts';

export const viewSchema = z.object({
  name: z.string().trim().min(1, { error: 'give it a name' }).max(100),
  /** The scope as address parameters. */
  scope: z.string().max(6_000),
  forTeam: z.boolean().default(false),
});

type ViewServices = Pick<Services, 'database' | 'changes'>;

/** The views of an app that somebody may use. */
export const loadViews = ({ database }: Pick<Services, 'database'>, app: App, person: string): Promise<View[]> =>
  listViews(database, app.id, person);

/** Keeps a scope under a name. */
export async function saveView(
  { database, changes }: ViewServices,
  app: App,
  { name, scope, forTeam, person }: z.infer<typeof viewSchema> & { person: string },
): Promise<{ id: number }> {
  const parsed = parseScope(new URLSearchParams(scope));
  if (!parsed.ok) throw new ApiError('bad-request', parsed.problem.message);
  const id = await addView(database, app.id, { name, address: printScope(parsed.value), madeBy: person, forTeam });
  if (id === null) throw new ApiError('bad-request', `${app.name} has as many views as there can be. Drop one first.`);
  changes.note(app.id);
  return { id };
}

export async function dropView(
  { database, changes }: ViewServices,
  app: App,
  { id, person }: { id: number; person: string },
): Promise<void> {
  if (!(await removeView(database, app.id, { id, person })))
    throw new ApiError('not-found', 'There is no such view, or somebody else keeps it for themselves.');
  changes.note(app.id);
}
