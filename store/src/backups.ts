import type { Database } from './database.ts';

/** A backup that was made, or was tried to. */
export interface KeptBackup {
  readonly folder: string;
  readonly name: string;
  readonly startedAt: Date;
  /** Null while it is made, and where that came to nothing. */
  readonly finishedAt: Date | null;
  readonly bytes: number | null;
  readonly problem: string | null;
}

const columns = { folder: 'folder', name: 'name', startedAt: 'started_at', finishedAt: 'finished_at', bytes: 'bytes', problem: 'problem' };
const toBackup = (row: KeptBackup): KeptBackup => ({ ...row, bytes: row.bytes === null ? null : Number(row.bytes) });

/** The last backup that is whole, and the last one that was tried. */
export async function lastBackups(database: Database): Promise<{ readonly good: KeptBackup | null; readonly tried: KeptBackup | null }> {
  const good = await database('backups').whereNotNull('finished_at').orderBy('finished_at', 'desc').first<KeptBackup>(columns);
  const tried = await database('backups').orderBy('id', 'desc').first<KeptBackup>(columns);
  return { good: good ? toBackup(good) : null, tried: tried ? toBackup(tried) : null };
}

/** Which backup is to be made, and when one that did not come to an end is tried again. */
export interface WantedBackup {
  readonly folder: string;
  readonly name: string;
  readonly now: Date;
  /** Whoever makes it is believed dead after so long without a sign of life. */
  readonly leaseMs: number;
  /** After a failure it is not tried again for so long. */
  readonly retryMs: number;
}

/** Lets one process make a backup: gives its id, or null where it is made already, or another process makes it. */
export async function beginBackup(database: Database, { folder, name, now, leaseMs, retryMs }: WantedBackup): Promise<number | null> {
  const begun = { started_at: now, leased_until: new Date(now.getTime() + leaseMs) };
  const [made] = (await database.raw('INSERT IGNORE INTO backups (folder, name, started_at, leased_until) VALUES (?, ?, ?, ?)', [
    folder,
    name,
    begun.started_at,
    begun.leased_until,
  ])) as [{ affectedRows: number; insertId: number }];
  if (made.affectedRows === 1) return made.insertId;
  // A change of one row: of two processes, on whichever nodes, one finds what it looks for.
  const again = await database('backups')
    .where({ folder, name })
    .whereNull('finished_at')
    .where((ended) =>
      ended
        .where((failed) => failed.whereNotNull('problem').where('started_at', '<=', new Date(now.getTime() - retryMs)))
        .orWhere((dead) => dead.whereNull('problem').where('leased_until', '<=', now)),
    )
    .update({ ...begun, problem: null });
  if (again !== 1) return null;
  const row = await database('backups').where({ folder, name }).first('id');
  return row?.id ?? null;
}

export const renewBackup = async (database: Database, id: number, until: Date): Promise<void> => {
  await database('backups').where({ id }).update({ leased_until: until });
};

export async function finishBackup(
  database: Database,
  id: number,
  result: { finishedAt: Date; bytes: number } | { problem: string },
): Promise<void> {
  await database('backups')
    .where({ id })
    .update('problem' in result ? { problem: result.problem.slice(0, 1_000) } : { finished_at: result.finishedAt, bytes: result.bytes });
}
