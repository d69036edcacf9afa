import { type Database, inTransaction } from './database.ts';
import { deleteCases } from './delete-reports.ts';
import { queueJobs } from './jobs.ts';

/**
 * Takes an app away from everybody at once: its keys and tokens are worth nothing any more, its name may be used again, and a job
 * deletes what it holds. False when it is not there.
 */
export async function startDeletingApp(database: Database, appId: number): Promise<boolean> {
  return inTransaction(database, async (transaction) => {
    const going = await transaction('apps').where({ id: appId, deleted_at: null }).forUpdate().first('id');
    if (!going) return false;
    await transaction('intake_keys').where({ app_id: appId }).delete();
    await transaction('tokens').where({ app_id: appId }).delete();
    await transaction('apps')
      .where({ id: appId })
      .update({ deleted_at: transaction.raw('UTC_TIMESTAMP(3)'), slug: `deleted ${appId}`, prefix: `-${appId}` });
    await transaction('jobs').where({ app_id: appId }).delete();
    await queueJobs(transaction, { kind: 'delete-app', appId, priority: 'again' }, [appId]);
    return true;
  });
}

const atOnce = 1_000;

/** What may be a lot, in an order in which nothing refers to what has gone. */
const large = ['attachments', 'intake_log', 'session_trails', 'sessions', 'terms', 'session_days'] as const;

/** Deletes some of what a deleted app holds, and at the end the app itself; gives whether that was all. */
export async function deletePartOfApp(database: Database, appId: number): Promise<boolean> {
  const rows: number[] = await database('reports').where({ app_id: appId }).limit(atOnce).pluck('id');
  if (rows.length > 0) {
    await inTransaction(database, async (transaction) => {
      for (const table of ['report_needs', 'report_terms', 'report_bodies']) await transaction(table).whereIn('report_row', rows).delete();
      await transaction('reports').whereIn('id', rows).delete();
    });
    return false;
  }
  for (const table of large) {
    const gone: number = await database(table).where({ app_id: appId }).limit(atOnce).delete();
    if (gone > 0) return false;
  }
  const cases: number[] = await database('cases').where({ app_id: appId }).limit(atOnce).pluck('id');
  if (cases.length > 0) {
    await inTransaction(database, (transaction) => deleteCases(transaction, cases));
    return false;
  }
  // All that is left refers to the app and goes with it.
  await database('apps').where({ id: appId }).delete();
  return true;
}
