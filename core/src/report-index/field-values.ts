import { type FieldName, meaningOf } from '../fields/fields.ts';
import type { Scope } from '../scope/scope.ts';
import { compareVersions } from '../version/version-order.ts';
import { caseRows } from './case-reports.ts';
import { PeopleCounter } from './people-count.ts';
import { fieldKey, type ReportIndex } from './report-index.ts';
import type { Term } from './report-terms.ts';
import { filterRows, scopeTest, windowOf } from './rows-in-scope.ts';

export interface ValueCount {
  readonly value: string;
  /** Each with its weight. */
  readonly reports: number;
  readonly people: number;
}

export interface FieldValues {
  readonly values: readonly ValueCount[];
  /** Different values in all, and reports that have none. */
  readonly different: number;
  readonly without: number;
}

export interface FieldQuestion {
  readonly field: FieldName;
  /** Name of the flag or attribute, else empty. */
  readonly key: string;
  /** Only values with this part in them, whatever its case. */
  readonly part?: string;
  /** Only reports of this case. */
  readonly caseId?: number;
  readonly limit?: number;
}

/** The values of a field in a scope, the commonest first; a report with several values counts for each. */
export function fieldValues(index: ReportIndex, scope: Scope, now: number, question: FieldQuestion): FieldValues {
  const { field, key, part = '', caseId, limit = 20 } = question;
  const rows =
    caseId === undefined ? filterRows(index, scopeTest(index, scope), windowOf(scope, now)) : caseRows(index, caseId, scope, now);
  const isIn = new Uint8Array(index.rows);
  for (const row of rows) isIn[row] = 1;
  const terms = index.termsOf.get(fieldKey(field, key)) ?? [];
  const people = new PeopleCounter(index);
  const wanted = part.toLowerCase();
  // 2 is for those that have any of the values.
  let without = rows.reduce((sum, row) => sum + index.weightOf(row), 0);
  const values: ValueCount[] = [];
  for (const term of terms) {
    let reports = 0;
    let different = 0;
    people.begin();
    for (const row of index.rowsOfTerm(term)) {
      if (isIn[row] === 0) continue;
      if (isIn[row] === 1) {
        isIn[row] = 2;
        without -= index.weightOf(row);
      }
      reports += index.weightOf(row);
      different += people.meet(row);
    }
    const { value } = index.terms[term] as Term;
    if (reports > 0 && value.toLowerCase().includes(wanted)) values.push({ value, reports: Math.round(reports), people: different });
  }
  const order = meaningOf(field).order;
  values.sort((a, b) => b.reports - a.reports || (order === 'version' ? compareVersions(b.value, a.value) : a.value < b.value ? -1 : 1));
  return { values: values.slice(0, limit), different: values.length, without: Math.round(without) };
}

/** The fields that reports ever had, flags and attributes once for each name, with how many different values. */
export function fieldsInUse(index: ReportIndex): { readonly field: FieldName; readonly key: string; readonly values: number }[] {
  return [...index.termsOf.values()].map((terms) => {
    const { field, key } = index.terms[terms[0] as number] as Term;
    return { field, key, values: terms.length };
  });
}
