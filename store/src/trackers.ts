import { type Tracker, trackerSchema } from '@rough-ember/core/tickets/tracker';
import type { Database } from './database.ts';
import { readStored, type StoredForm, writeStored } from './stored-json.ts';

const trackerForm: StoredForm<Tracker> = { column: 'trackers.settings', upgrades: [], schema: trackerSchema };

/** The ticket tracker of an app. */
export interface KeptTracker {
  readonly settings: Tracker;
  /** Encrypted; null where the tracker asks for none. */
  readonly secret: Buffer | null;
  /** Encrypted. */
  readonly toldSecret: Buffer;
  /** An owner lets it lead into the network of the server. */
  readonly mayReachPrivate: boolean;
  readonly changedBy: string;
}

type Row = Omit<KeptTracker, 'settings' | 'mayReachPrivate'> & { readonly settings: unknown; readonly mayReachPrivate: number };

export async function findTracker(database: Database, appId: number): Promise<KeptTracker | null> {
  const row: Row | undefined = await database('trackers').where({ app_id: appId }).first({
    settings: 'settings',
    secret: 'secret',
    toldSecret: 'told_secret',
    mayReachPrivate: 'may_reach_private',
    changedBy: 'changed_by',
  });
  return row ? { ...row, settings: readStored(trackerForm, row.settings), mayReachPrivate: row.mayReachPrivate === 1 } : null;
}

/** Puts a tracker in place of the one before; what waits for it goes the new way. */
export async function keepTracker(database: Database, appId: number, tracker: KeptTracker): Promise<void> {
  const { settings, secret, toldSecret, mayReachPrivate, changedBy } = tracker;
  await database('trackers')
    .insert({
      app_id: appId,
      settings: writeStored(trackerForm, settings),
      secret,
      told_secret: toldSecret,
      may_reach_private: mayReachPrivate,
      ticket_follows_case: settings.ticketFollowsCase,
      changed_by: changedBy,
    })
    .onConflict('app_id')
    .merge();
  await database('tickets')
    .where({ app_id: appId })
    .whereNotNull('work')
    .update({ attempts: 0, run_after: database.raw('UTC_TIMESTAMP(3)') });
}

export const removeTracker = async (database: Database, appId: number): Promise<boolean> =>
  (await database('trackers').where({ app_id: appId }).delete()) > 0;
