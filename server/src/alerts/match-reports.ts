import { type AlertKind, type AlertRule, happeningKinds, isInForce, scopeOfRule } from '@rough-ember/core/alerts/alert-rule';
import { ReportIndex } from '@rough-ember/core/report-index/report-index';
import { type RowTest, scopeTest } from '@rough-ember/core/report-index/rows-in-scope';
import type { Scope } from '@rough-ember/core/scope/scope';
import { listRulesOfKinds, stampOfRules } from '@rough-ember/store/alert-rules';
import type { Database } from '@rough-ember/store/database';
import { readReports, readTerms } from '@rough-ember/store/report-feed';

/** Something of a kind that happened with a report, which is named by its row. */
export interface ReportedFact {
  readonly kind: AlertKind;
  readonly row: number;
}

interface ScopedRule {
  readonly id: number;
  readonly rule: AlertRule;
  readonly scope: Scope;
}

/** The rules of some apps that tell as things happen, with their scopes: the same are asked for every batch of reports. */
const kept = new Map<number, { readonly stamp: string; readonly rules: readonly ScopedRule[] }>();
const mostApps = 50;

async function rulesOf(database: Database, appId: number): Promise<readonly ScopedRule[]> {
  const stamp = await stampOfRules(database, appId, happeningKinds);
  const known = kept.get(appId);
  if (known?.stamp === stamp) return known.rules;
  const rules = (await listRulesOfKinds(database, appId, happeningKinds)).flatMap(({ id, rule }) => {
    const scope = scopeOfRule(rule);
    // A scope that cannot be read holds nothing; the page of the rules says so.
    return scope.ok ? [{ id, rule, scope: scope.value }] : [];
  });
  kept.delete(appId);
  if (kept.size >= mostApps) kept.clear();
  kept.set(appId, { stamp, rules });
  return rules;
}

/** Which rules of an app some facts meet, by their numbers, each with the rows of the reports: by the very test that counts these. */
export async function matchReports(database: Database, appId: number, facts: readonly ReportedFact[]): Promise<[number, number[]][]> {
  const rules = (await rulesOf(database, appId)).filter(({ rule }) => isInForce(rule, Date.now()));
  if (rules.length === 0) return [];
  const reports = await readReports(database, appId, [...new Set(facts.map((one) => one.row))]);
  const index = new ReportIndex();
  for (const term of await readTerms(database, appId, { ids: [...new Set(reports.flatMap((report) => report.terms))] }))
    index.addTerm(term.id, term);
  for (const report of reports) index.put(report);
  const placeOf = new Map(reports.map((report, place) => [report.id, place]));
  const tests = new Map<string, RowTest>();
  return rules.flatMap(({ id, rule, scope }): [number, number[]][] => {
    const test = tests.get(rule.where) ?? scopeTest(index, scope);
    tests.set(rule.where, test);
    const rows = facts.filter(({ kind, row }) => {
      const place = placeOf.get(row);
      return kind === rule.what.kind && place !== undefined && test(place);
    });
    return rows.length === 0 ? [] : [[id, rows.map((one) => one.row)]];
  });
}
