import type { Database } from './database.ts';

/** One request as the intake log tells it. */
export interface IntakeEntry {
  readonly id: number;
  readonly at: Date;
  readonly keyName: string | null;
  readonly client: string | null;
  readonly what: string;
  readonly status: number;
  readonly accepted: number;
  readonly duplicates: number;
  readonly refused: number;
  readonly reason: string | null;
}

export async function writeIntakeLog(
  database: Database,
  entry: Omit<IntakeEntry, 'id' | 'at'> & { readonly appId: number | null },
): Promise<void> {
  await database('intake_log').insert({
    app_id: entry.appId,
    key_name: entry.keyName,
    client: entry.client?.slice(0, 200) ?? null,
    what: entry.what.slice(0, 300),
    status: entry.status,
    accepted: entry.accepted,
    duplicates: entry.duplicates,
    refused: entry.refused,
    reason: entry.reason?.slice(0, 1000) ?? null,
  });
}

/** The latest requests of an app, newest first; with `strangers` also those whose key belongs to no app. */
export async function listIntakeLog(
  database: Database,
  { appId, strangers, limit }: { appId: number; strangers: boolean; limit: number },
): Promise<IntakeEntry[]> {
  return database('intake_log')
    .where((either) => {
      either.where({ app_id: appId });
      if (strangers) either.orWhereNull('app_id');
    })
    .orderBy('id', 'desc')
    .limit(limit)
    .select('id', 'at', { keyName: 'key_name' }, 'client', 'what', 'status', 'accepted', 'duplicates', 'refused', 'reason');
}
