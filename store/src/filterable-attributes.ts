import type { Knex } from 'knex';
import { type Database, inTransaction } from './database.ts';
import { queueJobs } from './jobs.ts';
import { bodiesAtOnceBytes, partsOfSize, sizedRow } from './parts-of-size.ts';
import { saveTerms } from './terms.ts';

/** How many attributes of an app can be filterable: each makes every report's terms longer. */
export const mostFilterable = 60;

/** Reports whose terms are found again by one job. */
const reportsInRun = 500;

export async function listFilterable(database: Database, appId: number): Promise<string[]> {
  const rows: { name: string }[] = await database('filterable_attributes').where({ app_id: appId }).orderBy('name').select('name');
  return rows.map((row) => row.name);
}

/** Makes an attribute filterable, and has all reports of the app looked at again. */
export async function addFilterable(
  database: Database,
  { appId, name, askedBy }: { appId: number; name: string; askedBy: string },
): Promise<'added' | 'known' | 'too-many'> {
  return inTransaction(database, async (transaction) => {
    // Whoever adds one holds the app's row, so that two at once do not pass the limit together.
    await transaction('apps').where({ id: appId }).forUpdate().first('id');
    const known = await listFilterable(transaction, appId);
    if (known.includes(name)) return 'known';
    if (known.length >= mostFilterable) return 'too-many';
    await transaction('filterable_attributes').insert({ app_id: appId, name, asked_by: askedBy });
    await queueRuns(transaction, appId);
    return 'added';
  });
}

/** Makes an attribute filterable no more; false when it was not. */
export async function removeFilterable(database: Database, appId: number, name: string): Promise<boolean> {
  return inTransaction(database, async (transaction) => {
    const removed = await transaction('filterable_attributes').where({ app_id: appId, name }).delete();
    if (removed > 0) await queueRuns(transaction, appId);
    return removed > 0;
  });
}

/** Queues one job for each run of reports in place of those that wait already, which would do the same. */
async function queueRuns(transaction: Knex.Transaction, appId: number): Promise<void> {
  const rows: { id: number }[] = await transaction
    .with(
      'numbered',
      transaction('reports').where({ app_id: appId }).select('id', transaction.raw('ROW_NUMBER() OVER (ORDER BY id) AS place')),
    )
    .from('numbered')
    .whereRaw('place % ? = 1', [reportsInRun])
    .orderBy('id')
    .select('id');
  await transaction('jobs').where({ app_id: appId, kind: 'index-terms', attempts: 0 }).delete();
  await queueJobs(
    transaction,
    { kind: 'index-terms', appId, priority: 'again' },
    rows.map((row) => row.id),
  );
}

/** The run of an app's reports that begins with a row, with what their terms are made of, a part of bounded size at a time. */
export async function* readRunOfReports(
  database: Database,
  appId: number,
  firstRow: number,
): AsyncIterable<readonly { row: number; body: string; readable: string }[]> {
  const rows = await database('reports')
    .join('report_bodies', 'report_bodies.report_row', 'reports.id')
    .where('reports.app_id', appId)
    .where('reports.id', '>=', firstRow)
    .whereNotNull('readable')
    .orderBy('reports.id')
    .limit(reportsInRun)
    .select(sizedRow(database));
  for (const part of partsOfSize(rows, ({ bytes }) => bytes, bodiesAtOnceBytes))
    yield await database('report_bodies')
      .whereIn(
        'report_row',
        part.map(({ row }) => row),
      )
      .whereNotNull('readable')
      .orderBy('report_row')
      .select({ row: 'report_row', body: 'body', readable: 'readable' });
}

/** Keeps terms that were found again, and finishes the job that asked for them. */
export async function saveTermsAgain(
  database: Database,
  appId: number,
  reports: readonly { readonly row: number; readonly terms: Buffer }[],
  jobId: number,
): Promise<void> {
  await inTransaction(database, async (transaction) => {
    const rows = reports.map(({ row }) => row);
    // A report that was deleted meanwhile has no terms to keep.
    const there: { id: number }[] = await transaction('reports').where({ app_id: appId }).whereIn('id', rows).forUpdate().select('id');
    const present = new Set(there.map((one) => one.id));
    await saveTerms(
      transaction,
      reports.filter(({ row }) => present.has(row)),
    );
    await transaction('reports')
      .whereIn('id', [...present])
      .update({ changed_at: transaction.raw('CURRENT_TIMESTAMP(6)') });
    await transaction('jobs').where({ id: jobId }).delete();
  });
}
