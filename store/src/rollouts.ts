import type { FlagChange, RolloutStep } from '@rough-ember/core/rollouts/rollouts';
import { versionSortKey } from '@rough-ember/core/version/version-order';
import type { Database } from './database.ts';

type Stored<Step> = Omit<Step, 'at' | 'percent'> & { at: Date; percent: string | null };

/** The database gives exact numbers as text. */
const shown = <Step extends RolloutStep | FlagChange>({ at, percent, ...rest }: Stored<Step>): Step =>
  ({ ...rest, at: at.toISOString(), percent: percent === null ? null : Number(percent) }) as unknown as Step;

export async function addRolloutStep(
  database: Database,
  appId: number,
  { version, action, percent, at, by, commit, note }: Omit<RolloutStep, 'id'>,
): Promise<number> {
  const [id] = await database('rollouts').insert({
    app_id: appId,
    version,
    version_key: versionSortKey(version),
    action,
    percent,
    at: new Date(at),
    by_whom: by,
    commit_id: commit,
    note,
  });
  return id as number;
}

/** The steps of an app's rollouts, or of one version, the oldest first. */
export async function listRolloutSteps(database: Database, appId: number, version?: string): Promise<RolloutStep[]> {
  const query = database('rollouts').where({ app_id: appId }).orderBy(['at', 'id']);
  if (version !== undefined) query.where({ version });
  const rows: Stored<RolloutStep>[] = await query.select({
    id: 'id',
    version: 'version',
    action: 'action',
    percent: 'percent',
    at: 'at',
    by: 'by_whom',
    commit: 'commit_id',
    note: 'note',
  });
  return rows.map((row) => shown<RolloutStep>(row));
}

/** Takes back a step that was recorded by mistake; false when there is none. */
export async function removeRolloutStep(database: Database, appId: number, id: number): Promise<boolean> {
  return (await database('rollouts').where({ app_id: appId, id }).delete()) > 0;
}

export async function addFlagChange(
  database: Database,
  appId: number,
  { flag, variant, percent, at, by, note }: Omit<FlagChange, 'id'>,
): Promise<number> {
  const [id] = await database('flag_changes').insert({ app_id: appId, flag, variant, percent, at: new Date(at), by_whom: by, note });
  return id as number;
}

/** The changes of an app's flags, the oldest first. */
export async function listFlagChanges(database: Database, appId: number): Promise<FlagChange[]> {
  const rows: Stored<FlagChange>[] = await database('flag_changes')
    .where({ app_id: appId })
    .orderBy(['at', 'id'])
    .select({ id: 'id', flag: 'flag', variant: 'variant', percent: 'percent', at: 'at', by: 'by_whom', note: 'note' });
  return rows.map((row) => shown<FlagChange>(row));
}

export async function removeFlagChange(database: Database, appId: number, id: number): Promise<boolean> {
  return (await database('flag_changes').where({ app_id: appId, id }).delete()) > 0;
}
