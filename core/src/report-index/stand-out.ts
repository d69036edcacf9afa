import { type FieldName, fieldsWhere } from '../fields/fields.ts';
import type { Scope } from '../scope/scope.ts';
import type { PersonsByValue } from '../session-index/persons-by-value.ts';
import { chanceOfAsMany } from '../stability/exact-tail.ts';
import { deviationsForLooks, type Estimate, ratioOfShares } from '../stability/share.ts';
import { caseRows } from './case-reports.ts';
import { fieldKey, none, type ReportIndex } from './report-index.ts';
import type { Term } from './report-terms.ts';
import { filterRows, scopeTest, windowOf } from './rows-in-scope.ts';

/** A value that more of a case's people have than of the others in the scope. */
export interface StandingOut {
  readonly term: Term;
  /** People of the case who have it, and share of them. */
  readonly people: number;
  readonly share: number;
  /** Share among everybody else in the scope. */
  readonly shareOfOthers: number;
  /** Who the others are: everybody who had a session, or where sessions do not tell the value, those who reported something. */
  readonly against: 'everybody' | 'reporters';
  /** How many times as common, with an interval that holds for all values looked at together. */
  readonly lift: Estimate;
}

export interface StandOuts {
  readonly people: number;
  /** Others who reported something. */
  readonly others: number;
  /** Others who had a session; null where no session was told. */
  readonly everybodyElse: number | null;
  /** Everybody else was too many to look at, so that many were drawn. */
  readonly isSample: boolean;
  /** Values that were looked at. */
  readonly looks: number;
  readonly values: readonly StandingOut[];
}

const fieldsThatStandOut: ReadonlySet<FieldName> = new Set(fieldsWhere(({ standsOut }) => standsOut));

const mostOthers = 20_000;
const shownValues = 12;
const fewestPeople = 3;
/** So few people are compared exactly. */
const handful = 50;
/** The probability with which something is told that is chance, over all values that are looked at. */
const chanceTaken = 0.025;

/**
 * What the people of a case have in common and others do not. Somebody has a value when one of their reports in the scope
 * does. Others are all who had a session in the scope; for what sessions do not tell, those with reports in the scope and
 * none of them in this case.
 */
export function standOut(
  index: ReportIndex,
  caseId: number,
  scope: Scope,
  now: number,
  everybody: Omit<PersonsByValue, 'sampling'> = { persons: 0, fields: [] },
  reporters: Reporters = findReporters(index, scope, now),
): StandOuts {
  const own = caseRows(index, caseId, scope, now);
  const inCase = new Uint8Array(index.peopleSize);
  for (let place = 0; place < own.length; place++) {
    const person = index.personOf.values[own[place] as number] as number;
    if (person !== none) inCase[person] = 1;
  }
  const ofCase = countPeopleByTerm(index, sortedByPerson(index, own));
  const { others, ofOthers } = othersAmong(index, reporters, inCase);
  const people = inCase.reduce((sum, one) => sum + one, 0);
  const asked: number[] = [];
  ofCase.forEach((count, term) => {
    if (count >= fewestPeople && fieldsThatStandOut.has((index.terms[term] as Term).field)) asked.push(term);
  });
  const everybodyElse = everybody.persons > people ? everybody.persons - people : null;
  const personsWith = new Map(
    everybody.fields.map(({ field, key, values }) => [fieldKey(field, key), new Map(values.map((one) => [one.value, one.persons]))]),
  );
  const deviations = deviationsForLooks(asked.length);
  const values = asked
    .map((term) => {
      const { field, key, value } = index.terms[term] as Term;
      const mine = { hits: ofCase[term] as number, count: people };
      const told = everybodyElse === null ? undefined : personsWith.get(fieldKey(field, key));
      const theirs = told
        ? { hits: Math.max(0, (told.get(value) ?? 0) - mine.hits), count: everybodyElse as number }
        : { hits: ofOthers[term] as number, count: others };
      return {
        term: index.terms[term] as Term,
        people: mine.hits,
        share: mine.hits / people,
        shareOfOthers: theirs.count === 0 ? 0 : theirs.hits / theirs.count,
        against: told ? ('everybody' as const) : ('reporters' as const),
        lift: ratioOfShares(mine, theirs, deviations),
        // The interval is right for many; for a handful it is not, and chance is counted out.
        mayBeChance: mine.count <= handful && chanceOfAsMany(mine, theirs) > chanceTaken / asked.length,
      };
    })
    .filter((one) => one.lift.low > 1 && one.share >= 0.1 && !one.mayBeChance)
    .map(({ mayBeChance: _, ...one }) => one)
    .sort((a, b) => b.lift.low - a.lift.low || b.share - a.share)
    .slice(0, shownValues);
  return {
    people,
    others,
    everybodyElse,
    isSample: reporters.isSample,
    looks: asked.length,
    values: others === 0 && everybodyElse === null ? [] : values,
  };
}

/** The people who reported something in a scope, or those of them that were drawn to stand for all. */
export interface Reporters {
  /** Rows of those who were drawn, person by person. */
  readonly rows: Int32Array;
  /** The place behind the last of somebody's rows; 0 for whoever was not drawn. */
  readonly ends: Uint32Array;
  readonly people: number;
  readonly isSample: boolean;
  /** How many of them have each term. */
  readonly counts: Uint32Array;
}

/** Finds whom the people of the cases of a scope are compared with: the same for every case. */
export function findReporters(index: ReportIndex, scope: Scope, now: number): Reporters {
  const inScope = filterRows(index, scopeTest(index, scope), windowOf(scope, now));
  const personOf = index.personOf.values;
  const isDrawn = new Uint8Array(index.peopleSize);
  let all = 0;
  for (let place = 0; place < inScope.length; place++) {
    const person = personOf[inScope[place] as number] as number;
    if (person === none || isDrawn[person] === 1) continue;
    isDrawn[person] = 1;
    all++;
  }
  const isSample = all > mostOthers;
  const people = isSample ? draw(isDrawn, mostOthers / all) : all;
  const drawn = inScope.filter((row) => personOf[row] !== none && isDrawn[personOf[row] as number] === 1);
  const rows = sortedByPerson(index, drawn);
  const ends = new Uint32Array(index.peopleSize);
  for (let place = 0; place < rows.length; place++) ends[personOf[rows[place] as number] as number] = place + 1;
  return { rows, ends, people, isSample, counts: countPeopleByTerm(index, rows) };
}

/** Of some reporters those who are not of a case: how many, and how many of them have each term. */
function othersAmong(
  index: ReportIndex,
  { rows, ends, people, counts }: Reporters,
  inCase: Uint8Array,
): { others: number; ofOthers: Uint32Array } {
  const personOf = index.personOf.values;
  const ofOthers = new Uint32Array(index.terms.length);
  ofOthers.set(counts);
  const theirs: number[] = [];
  let both = 0;
  for (let person = 0; person < ends.length; person++) {
    if (inCase[person] !== 1 || ends[person] === 0) continue;
    both++;
    for (let place = (ends[person] as number) - 1; place >= 0 && personOf[rows[place] as number] === person; place--)
      theirs.push(rows[place] as number);
  }
  const ofBoth = countPeopleByTerm(index, Int32Array.from(theirs));
  for (let term = 0; term < ofOthers.length; term++) ofOthers[term] = (ofOthers[term] as number) - (ofBoth[term] as number);
  return { others: people - both, ofOthers };
}

/** Rows of people who are known, person by person. */
function sortedByPerson(index: ReportIndex, rows: Int32Array): Int32Array {
  const personOf = index.personOf.values;
  // As one number each, since numbers are sorted without a call for each comparison.
  const keys = new Float64Array(rows.length);
  let known = 0;
  for (let place = 0; place < rows.length; place++) {
    const row = rows[place] as number;
    const person = personOf[row] as number;
    if (person !== none) keys[known++] = person * 0x1_0000_0000 + row;
  }
  return Int32Array.from(keys.subarray(0, known).sort(), (key) => key % 0x1_0000_0000);
}

/** Keeps about a share of the marks, always the same ones; gives how many. */
function draw(marks: Uint8Array, share: number): number {
  let kept = 0;
  const border = Math.floor(share * 0x1_0000_0000);
  for (let person = 0; person < marks.length; person++) {
    if (marks[person] === 0) continue;
    let mixed = Math.imul(person ^ (person >>> 16), 0x45d9f3b);
    mixed = Math.imul(mixed ^ (mixed >>> 16), 0x45d9f3b);
    if ((mixed ^ (mixed >>> 16)) >>> 0 < border) kept++;
    else marks[person] = 0;
  }
  return kept;
}

/** How many people have each term in one of their rows, which come person by person. */
function countPeopleByTerm(index: ReportIndex, rows: Int32Array): Uint32Array {
  const personOf = index.personOf.values;
  const [termsAt, termsCount, reportTerms] = [index.termsAt.values, index.termsCount.values, index.reportTerms.values];
  const counts = new Uint32Array(index.terms.length);
  const lastPerson = new Int32Array(index.terms.length).fill(none);
  for (let place = 0; place < rows.length; place++) {
    const row = rows[place] as number;
    const person = personOf[row] as number;
    const from = termsAt[row] as number;
    const to = from + (termsCount[row] as number);
    for (let at = from; at < to; at++) {
      const term = reportTerms[at] as number;
      if (lastPerson[term] === person) continue;
      lastPerson[term] = person;
      counts[term] = (counts[term] as number) + 1;
    }
  }
  return counts;
}
