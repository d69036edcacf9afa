import type { Report } from '@rough-ember/core/report/report';
import { termsOfReport } from '@rough-ember/core/report-index/report-terms';
import type { ReadableReport } from '@rough-ember/core/symbolicate/readable-report';
import type { Database } from '@rough-ember/store/database';
import { listFilterable, readRunOfReports, saveTermsAgain } from '@rough-ember/store/filterable-attributes';
import type { Job } from '@rough-ember/store/jobs';
import { idsOfTerms, packTerms } from '@rough-ember/store/terms';

/** Finds the terms of a run of reports again, since the app has made more of them filterable, or less. */
export async function indexTerms(database: Database, job: Job): Promise<void> {
  const wanted = new Set(await listFilterable(database, job.appId));
  const packed: { row: number; terms: Buffer }[] = [];
  for await (const reports of readRunOfReports(database, job.appId, job.subjectId)) {
    const found = reports.map(({ row, body, readable }) => ({
      row,
      terms: termsOfReport(JSON.parse(body) as Report, JSON.parse(readable) as ReadableReport, wanted),
    }));
    const all = found.flatMap(({ terms }) => terms);
    const ids = await idsOfTerms(database, job.appId, all);
    for (const { row, terms } of found) packed.push({ row, terms: packTerms(terms, ids) });
  }
  await saveTermsAgain(database, job.appId, packed, job.id);
}
