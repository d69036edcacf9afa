import type { App } from '@rough-ember/store/apps';
import { inTransaction } from '@rough-ember/store/database';
import { startDeletingApp } from '@rough-ember/store/delete-app';
import { deleteReports, startDeletingCase } from '@rough-ember/store/delete-reports';
import { findReportRow } from '@rough-ember/store/reports';
import { z } from 'zod';
import { requireCase } from '../desk/case-actions.ts';
import { ApiError } from '../errors.ts';
import type { Services } from '../services.ts';

type Deleting = Pick<Services, 'database' | 'changes' | 'jobs'>;

/** Deletes one report for good, with its attachments and its words. */
export async function deleteOneReport({ database, changes, jobs }: Deleting, app: App, reportId: string): Promise<void> {
  const deleted = await inTransaction(database, async (transaction) => {
    const row = await findReportRow(transaction, app.id, reportId);
    if (row !== null) await deleteReports(transaction, app.id, [row]);
    return row !== null;
  });
  if (!deleted) throw new ApiError('not-found', `There is no report ${reportId.slice(0, 40)} of ${app.name}.`);
  jobs.wake();
  changes.note(app.id);
}

/** Deletes a case with its reports and its history for good. It is out of sight at once; gives how many reports go by and by. */
export async function deleteWholeCase(services: Deleting, app: App, ref: string): Promise<{ readonly reports: number }> {
  const { database, changes, jobs } = services;
  const reports = await startDeletingCase(database, app.id, await requireCase(services, app, ref));
  if (reports === null) throw new ApiError('not-found', `There is no case ${ref.slice(0, 40)} of ${app.name}.`);
  jobs.wake();
  changes.note(app.id);
  return { reports };
}

/** To delete an app its name is written once more. */
export const appDeletionSchema = z.object({ name: z.string().max(200).describe('The name of the app, as it is.') });

/** Deletes an app with everything it holds for good. It is out of sight, and its keys are worth nothing, at once. */
export async function deleteWholeApp({ database, jobs }: Deleting, app: App, { name }: z.infer<typeof appDeletionSchema>): Promise<void> {
  if (name.trim() !== app.name) throw new ApiError('bad-request', `name: must be "${app.name}", the name of the app that is to go.`);
  if (!(await startDeletingApp(database, app.id))) throw new ApiError('not-found', `There is no app "${app.slug}".`);
  jobs.wake();
}
