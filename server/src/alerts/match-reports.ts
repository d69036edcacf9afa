import { scopeOfRule } from '@rough-ember/core/alerts/alert-rule';
import { ReportIndex } from '@rough-ember/core/report-index/report-index';
import { scopeTest } from '@rough-ember/core/report-index/rows-in-scope';
import type { Scope } from '@rough-ember/core/scope/scope';
import type { Database } from '@rough-ember/store/database';
import { readReports, readTerms } from '@rough-ember/store/report-feed';

/** Scopes that were read before: those of the same rules are asked for every batch of reports. Null for one that cannot be read. */
const readBefore = new Map<string, Scope | null>();
const mostReadBefore = 20_000;

function readScope(where: string): Scope | null {
  const known = readBefore.get(where);
  if (known !== undefined) return known;
  const read = scopeOfRule({ what: { kind: 'report' }, where });
  const scope = read.ok ? read.value : null;
  if (readBefore.size >= mostReadBefore) readBefore.clear();
  readBefore.set(where, scope);
  return scope;
}

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
    const scope = readScope(where);
    if (scope === null) return [];
    const test = scopeTest(index, scope);
    return reports.filter((_, row) => test(row)).map((report) => report.id);
  });
}
