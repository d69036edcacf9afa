import { termsOfReport } from '@rough-ember/core/report-index/report-terms';
import type { Database } from '@rough-ember/store/database';
import { listFilterable, readRunOfReports, saveTermsAgain } from '@rough-ember/store/filterable-attributes';
import type { Job } from '@rough-ember/store/jobs';
import { readableForm, reportForm } from '@rough-ember/store/stored-forms';
import { readStored } from '@rough-ember/store/stored-json';
import { idsOfTerms, packTerms } from '@rough-ember/store/terms';

/** Finds the terms of a run of reports again, since the app has made more of them filterable, or less. */
export async function indexTerms(database: Database, job: Job): Promise<void> {
  const wanted = new Set(await listFilterable(database, job.appId));
  const packed: { row: number; terms: Buffer }[] = [];
  for await (const reports of readRunOfReports(database, job.appId, job.subjectId)) {
    const found = reports.map(({ row, body, readable }) => ({
      row,
      terms: termsOfReport(readStored(reportForm, body), readStored(readableForm, readable), wanted),
    }));
    const all = found.flatMap(({ terms }) => terms);
    const ids = await idsOfTerms(database, job.appId, all);
    for (const { row, terms } of found) packed.push({ row, terms: packTerms(terms, ids) });
  }
  await saveTermsAgain(database, job.appId, packed, job.id);
}
