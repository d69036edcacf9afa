import type { FieldName } from '../fields/fields.ts';
import { type ReportKind, reportKinds } from '../report/report-kinds.ts';
import type { BuildScope } from '../scope/scope.ts';
import { Growing } from './growing.ts';
import { Numbering } from './numbering.ts';
import type { Term } from './report-terms.ts';

/** A report as the index takes it; the numbers of report, case and terms are those of the store. */
export interface IndexedReport {
  readonly id: number;
  /** Milliseconds since 1970. */
  readonly at: number;
  readonly kind: ReportKind;
  readonly version: string;
  readonly excluded: boolean;
  /** Accepted and not read yet. */
  readonly waiting: boolean;
  readonly caseId: number | null;
  /** 16 bytes; null when nobody is known. */
  readonly person: Uint8Array | null;
  /** How many reports it stands for, those among them that were sampled out. */
  readonly weight: number;
  readonly terms: readonly number[];
}

/** None, in a column of numbers. */
export const none = -1;

const state = { excluded: 1, waiting: 2, gone: 4 } as const;

/** In the column of states, that a report was deleted. */
export const goneState = state.gone;

/**
 * The reports of an app as columns of numbers: every question of a screen is one pass over them, so that any filter, any
 * split and any count of people is exact and quick. It holds nothing that the store does not, and is made from it again.
 */
export class ReportIndex {
  readonly at = new Growing(new Float64Array(0));
  readonly kinds = new Growing(new Uint8Array(0));
  readonly states = new Growing(new Uint8Array(0));
  /** Number of the version in `versions`. */
  readonly versionOf = new Growing(new Uint32Array(0));
  /** Number of the case in `caseIds`, or none. */
  readonly caseOf = new Growing(new Int32Array(0));
  readonly personOf = new Growing(new Int32Array(0));
  readonly weights = new Growing(new Float32Array(0));
  readonly termsAt = new Growing(new Uint32Array(0));
  readonly termsCount = new Growing(new Uint32Array(0));
  readonly ids = new Growing(new Float64Array(0));
  /** Terms of all reports, as numbers in `terms`. */
  readonly reportTerms = new Growing(new Uint32Array(0));

  readonly versions: string[] = [];
  /** Reports that are there of each of them, each with its weight. */
  readonly reportsOfVersions = new Growing(new Float64Array(0));
  readonly caseIds: number[] = [];
  /** For each case a number that differs after every change of one of its reports. */
  readonly caseRevisions = new Growing(new Uint32Array(0));
  readonly terms: Term[] = [];
  /** Terms by field and key. */
  readonly termsOf = new Map<string, number[]>();

  private readonly rowOfId = new Map<number, number>();
  private readonly versionNumbers = new Map<string, number>();
  private readonly caseNumbers = new Map<number, number>();
  /** Number of a term + 1 by the id that the store has for it; ids are dense, so an array holds them. */
  private termNumbers = new Int32Array(1024);
  /** Rows that have each term; some may have lost it since. */
  private readonly rowsOfTerms: Growing<Int32Array>[] = [];
  private readonly lostBy = new Set<number>();
  private readonly people = new Numbering();
  private readonly rowsOfCases: Growing<Int32Array>[] = [];
  private readonly movedFrom = new Set<number>();
  private readonly touched = new Growing(new Int32Array(0));
  private goneRows = 0;
  private weighted = false;
  private changes = 0;

  /** Rows of the columns; some may be of reports that are gone. */
  get rows(): number {
    return this.at.length;
  }

  /** Reports that are there. */
  get size(): number {
    return this.rows - this.goneRows;
  }

  get peopleSize(): number {
    return this.people.size;
  }

  /** Differs after every change, so that what was made of the index can be kept until then. */
  get revision(): number {
    return this.changes;
  }

  /** Makes a term known by the number that the store has for it; reports may have it from then on. */
  addTerm(id: number, term: Term): void {
    if (this.knowsTerm(id)) return;
    const number = this.terms.length;
    this.terms.push(term);
    this.rowsOfTerms.push(new Growing(new Int32Array(0)));
    if (id >= this.termNumbers.length) {
      const grown = new Int32Array(Math.max(id + 1, 2 * this.termNumbers.length));
      grown.set(this.termNumbers);
      this.termNumbers = grown;
    }
    this.termNumbers[id] = number + 1;
    const name = fieldKey(term.field, term.key);
    const known = this.termsOf.get(name);
    if (known) known.push(number);
    else this.termsOf.set(name, [number]);
  }

  knowsTerm(id: number): boolean {
    return (this.termNumbers[id] ?? 0) > 0;
  }

  /** Takes a report in, or what has changed of one; terms that were not made known are left out. */
  put(report: IndexedReport): void {
    this.changes++;
    const known = this.rowOfId.get(report.id);
    const row = known ?? this.addRow(report.id);
    const caseNumber = report.caseId === null ? none : this.caseNumber(report.caseId);
    const before = this.caseOf.values[row] as number;
    this.touched.push(row);
    this.noteChange(before);
    this.noteChange(caseNumber);
    if (before !== caseNumber) {
      if (before !== none) this.movedFrom.add(before);
      if (caseNumber !== none) {
        // It may have been in this list before; reading the list sorts that out.
        if (known !== undefined) this.movedFrom.add(caseNumber);
        (this.rowsOfCases[caseNumber] as Growing<Int32Array>).push(row);
      }
    }
    this.at.values[row] = report.at;
    this.kinds.values[row] = reportKinds.indexOf(report.kind);
    this.states.values[row] = (report.excluded ? state.excluded : 0) | (report.waiting ? state.waiting : 0);
    if (known !== undefined) addTo(this.reportsOfVersions, this.versionOf.values[row] as number, -this.weightOf(row));
    this.versionOf.values[row] = this.versionNumber(report.version);
    this.weights.values[row] = report.weight;
    if (report.weight !== 1) this.weighted = true;
    addTo(this.reportsOfVersions, this.versionOf.values[row] as number, this.weightOf(row));
    this.caseOf.values[row] = caseNumber;
    this.personOf.values[row] = report.person === null ? none : this.people.numberOf(report.person);
    this.putTerms(row, report.terms);
  }

  private putTerms(row: number, ids: readonly number[]): void {
    const terms: number[] = [];
    for (const id of ids) {
      const number = (this.termNumbers[id] ?? 0) - 1;
      if (number !== none) terms.push(number);
    }
    const before = this.termsOfRow(row);
    if (before.length === terms.length && terms.every((term, at) => before[at] === term)) return;
    // It may have been in the list of a term before; reading the list sorts that out.
    if (before.length > 0) for (const term of [...before, ...terms]) this.lostBy.add(term);
    this.termsAt.values[row] = this.reportTerms.length;
    this.termsCount.values[row] = terms.length;
    this.reportTerms.pushAll(terms);
    for (const term of terms) (this.rowsOfTerms[term] as Growing<Int32Array>).push(row);
  }

  /** What decides where each report is counted, in the order they came. */
  *all(): Iterable<Pick<IndexedReport, 'id' | 'caseId' | 'excluded' | 'waiting'>> {
    for (let row = 0; row < this.rows; row++) {
      const states = this.states.values[row] as number;
      if ((states & state.gone) !== 0) continue;
      const caseNumber = this.caseOf.values[row] as number;
      yield {
        id: this.ids.values[row] as number,
        caseId: caseNumber === none ? null : (this.caseIds[caseNumber] as number),
        excluded: (states & state.excluded) !== 0,
        waiting: (states & state.waiting) !== 0,
      };
    }
  }

  /** Forgets a report. */
  remove(id: number): void {
    const row = this.rowOfId.get(id);
    if (row === undefined) return;
    this.changes++;
    this.rowOfId.delete(id);
    const caseNumber = this.caseOf.values[row] as number;
    if (caseNumber !== none) this.movedFrom.add(caseNumber);
    this.touched.push(row);
    this.noteChange(caseNumber);
    addTo(this.reportsOfVersions, this.versionOf.values[row] as number, -this.weightOf(row));
    this.caseOf.values[row] = none;
    this.states.values[row] = state.gone;
    this.goneRows++;
  }

  /** Rows that have changed since this was asked the last time, some of them twice. */
  takeTouched(): Int32Array {
    const rows = this.touched.values.slice(0, this.touched.length);
    this.touched.length = 0;
    return rows;
  }

  private noteChange(caseNumber: number): void {
    if (caseNumber !== none) addTo(this.caseRevisions, caseNumber, 1);
  }

  isGone(row: number): boolean {
    return ((this.states.values[row] as number) & state.gone) !== 0;
  }

  /** For each value of the column of states, 1 when reports in it belong to builds that are wanted. */
  statesWanted(builds: BuildScope): Uint8Array {
    return Uint8Array.from({ length: 8 }, (_, value) => {
      const isExcluded = (value & state.excluded) !== 0;
      return (value & state.gone) === 0 && (builds === 'any' || isExcluded === (builds === 'excluded')) ? 1 : 0;
    });
  }

  /** Whether some of the reports stand for others that were sampled out. */
  get isWeighted(): boolean {
    return this.weighted;
  }

  /** How many reports a row stands for. */
  weightOf(row: number): number {
    return this.weights.values[row] as number;
  }

  isWaiting(row: number): boolean {
    return isWaitingState(this.states.values[row] as number);
  }

  /** Numbers of the cases that have reports. */
  get caseCount(): number {
    return this.caseIds.length;
  }

  /** The number of a case of the store, or none. */
  findCase(caseId: number): number {
    return this.caseNumbers.get(caseId) ?? none;
  }

  /** The rows of a case, in the order they came. */
  rowsOfCase(caseNumber: number): Int32Array {
    const rows = this.rowsOfCases[caseNumber];
    if (!rows) return new Int32Array(0);
    if (this.movedFrom.delete(caseNumber)) keepOnly(rows, (row) => this.caseOf.values[row] === caseNumber);
    return rows.values.subarray(0, rows.length);
  }

  /** The rows that have a term, in the order they got it. */
  rowsOfTerm(term: number): Int32Array {
    const rows = this.rowsOfTerms[term];
    if (!rows) return new Int32Array(0);
    if (this.lostBy.delete(term)) keepOnly(rows, (row) => this.termsOfRow(row).includes(term));
    return rows.values.subarray(0, rows.length);
  }

  /** The numbers in `terms` that a report has. */
  termsOfRow(row: number): Uint32Array {
    const from = this.termsAt.values[row] as number;
    return this.reportTerms.values.subarray(from, from + (this.termsCount.values[row] as number));
  }

  private addRow(id: number): number {
    const row = this.rows;
    this.rowOfId.set(id, row);
    this.ids.push(id);
    for (const column of [this.at, this.kinds, this.states, this.versionOf, this.termsAt, this.termsCount, this.weights]) column.push(0);
    this.caseOf.push(none);
    this.personOf.push(none);
    return row;
  }

  private caseNumber(caseId: number): number {
    const known = this.caseNumbers.get(caseId);
    if (known !== undefined) return known;
    const number = this.caseIds.length;
    this.caseNumbers.set(caseId, number);
    this.caseIds.push(caseId);
    this.caseRevisions.push(0);
    this.rowsOfCases.push(new Growing(new Int32Array(0)));
    return number;
  }

  private versionNumber(version: string): number {
    const known = this.versionNumbers.get(version);
    if (known !== undefined) return known;
    const number = this.versions.length;
    this.versionNumbers.set(version, number);
    this.versions.push(version);
    this.reportsOfVersions.push(0);
    return number;
  }
}

/** Whether a value of the column of states is that of a report that was accepted and not read yet. */
export const isWaitingState = (value: number): boolean => (value & state.waiting) !== 0;

/** The name under which the terms of a field, or of one flag or attribute, are listed. */
export const fieldKey = (field: FieldName, key: string): string => `${field}\u0000${key}`;

function addTo({ values }: Growing<Uint32Array | Float64Array>, at: number, count: number): void {
  values[at] = (values[at] as number) + count;
}

/** Drops from a list what does not belong into it any more, and what is there twice. */
function keepOnly(rows: Growing<Int32Array>, belongs: (row: number) => boolean): void {
  const stay = [...new Set(rows.values.subarray(0, rows.length))].filter(belongs);
  rows.length = 0;
  rows.pushAll(stay);
}
