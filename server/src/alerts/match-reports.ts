import { scopeOfRule } from '@rough-ember/core/alerts/alert-rule';
import { ReportIndex } from '@rough-ember/core/report-index/report-index';
import { scopeTest } from '@rough-ember/core/report-index/rows-in-scope';
import type { Database } from '@rough-ember/store/database';
import { readReports, readTerms } from '@rough-ember/store/report-feed';

/**
 * Which of some reports, by their rows, each of some scopes holds, by the very test that counts them. A scope that cannot be read holds none.
 */
export async function matchReports(
  database: Database,
  appId: number,
  rows: readonly number[],
  wheres: readonly string[],
): Promise<number[][]> {
  const reports = await readReports(database, appId, rows);
  const termIds = [...new Set(reports.flatMap((report) => report.terms))];
  const index = new ReportIndex();
  for (const term of await readTerms(database, appId, { ids: termIds })) index.addTerm(term.id, term);
  for (const report of reports) index.put(report);
  return wheres.map((where) => {
    const scope = scopeOfRule({ what: { kind: 'report' }, where });
    if (!scope.ok) return [];
    const test = scopeTest(index, scope.value);
    return reports.filter((_, row) => test(row)).map((report) => report.id);
  });
}
