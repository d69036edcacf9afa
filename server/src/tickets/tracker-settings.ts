import { randomBytes } from 'node:crypto';
import { isDeepStrictEqual } from 'node:util';
import { isJsonTemplate } from '@rough-ember/core/templates/template';
import { type Tracker, trackerSchema } from '@rough-ember/core/tickets/tracker';
import type { AccountRole } from '@rough-ember/store/accounts';
import type { App } from '@rough-ember/store/apps';
import { findTracker, type KeptTracker, keepTracker, removeTracker } from '@rough-ember/store/trackers';
import { z } from 'zod';
import { ApiError } from '../errors.ts';
import type { Services } from '../services.ts';

/** A tracker as it is given. */
export const givenTrackerSchema = z.strictObject({
  settings: trackerSchema,
  secret: z
    .string()
    .max(3_000)
    .nullable()
    .optional()
    .describe(
      'What the tracker knows this server by; kept encrypted and shown to nobody. Left out: the one there is stays while the settings do.',
    ),
  mayReachPrivate: z.boolean().default(false).describe('It may lie in the network of the server; only an owner may say so.'),
  renewToldSecret: z.boolean().default(false).describe('Makes another secret for what the tracker tells by itself.'),
});
type GivenTracker = z.infer<typeof givenTrackerSchema>;

/** The tracker of an app as its page shows it, without secrets. */
export interface TrackerView {
  readonly settings: Tracker | null;
  readonly hasSecret: boolean;
  readonly mayReachPrivate: boolean;
  readonly changedBy: string;
  /** Where the tracker tells what became of a ticket. */
  readonly toldAddress: string;
}

/** Path at which the tracker of an app tells what became of a ticket. */
const toldPath = (app: App): string => `/trackers/${app.slug}/told`;

export async function loadTracker({ database, publicUrl }: Pick<Services, 'database' | 'publicUrl'>, app: App): Promise<TrackerView> {
  const tracker = await findTracker(database, app.id);
  return {
    settings: tracker?.settings ?? null,
    hasSecret: tracker?.secret != null,
    mayReachPrivate: tracker?.mayReachPrivate ?? false,
    changedBy: tracker?.changedBy ?? '',
    toldAddress: publicUrl + toldPath(app),
  };
}

function checkBodies({ make, close, open }: Tracker): void {
  for (const [name, how] of Object.entries({ make, close, open }))
    if (how && how.body !== '' && !isJsonTemplate(how.body))
      throw new ApiError('bad-request', `settings.${name}.body: must be JSON once the placeholders are filled in.`);
}

/** What leads somewhere: a secret goes nowhere else than where whoever gave it wanted it to. */
const whereItLeads = ({ make, ask, close, open, headers }: Tracker) => ({ make, ask, close, open, headers });

/** Puts a tracker in place of the one before. Gives the secret that it signs with, once, where that was made now. */
export async function changeTracker(
  services: Pick<Services, 'database' | 'serverKey' | 'changes'>,
  app: App,
  { settings, secret: given, mayReachPrivate, renewToldSecret }: GivenTracker,
  { by, role }: { readonly by: string; readonly role: AccountRole },
): Promise<{ readonly toldSecret: string | null }> {
  const { database, serverKey } = services;
  checkBodies(settings);
  const before = await findTracker(database, app.id);
  // Whoever could change where such a tracker leads could reach anything there.
  if ((mayReachPrivate || before?.mayReachPrivate === true) && role !== 'owner')
    throw new ApiError('not-allowed', 'Only an owner sets or changes a tracker that lies in the network of the server.');
  const toldSecret = before === null || renewToldSecret ? `whsec_${randomBytes(32).toString('base64')}` : null;
  await keepTracker(database, app.id, {
    settings,
    secret: secretOf(before, settings, given, serverKey),
    toldSecret: toldSecret === null ? (before as KeptTracker).toldSecret : serverKey.encrypt(toldSecret),
    mayReachPrivate,
    changedBy: by,
  });
  services.changes.note(app.id);
  return { toldSecret };
}

function secretOf(
  before: KeptTracker | null,
  settings: Tracker,
  given: string | null | undefined,
  serverKey: Services['serverKey'],
): Buffer | null {
  if (given !== undefined) return given === null || given === '' ? null : serverKey.encrypt(given);
  const stays = before !== null && isDeepStrictEqual(whereItLeads(before.settings), whereItLeads(settings));
  return stays ? before.secret : null;
}

export async function dropTracker({ database, changes }: Pick<Services, 'database' | 'changes'>, app: App): Promise<void> {
  if (!(await removeTracker(database, app.id))) throw new ApiError('not-found', `${app.name} names no tracker.`);
  changes.note(app.id);
}
