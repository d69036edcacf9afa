import { restrictionTest } from '../report-index/match-terms.ts';
import type { Filter, Restriction } from '../scope/filter/filter.ts';
import type { Scope } from '../scope/scope.ts';
import { versionSortKey } from '../version/version-order.ts';
import { listSeparator, sessionFields } from './person-day.ts';
import { mark, type SessionIndex } from './session-index.ts';

/** What of a scope speaks of sessions. */
export type SessionScope = Pick<Scope, 'versions' | 'builds' | 'filter'>;

/** Whether a row fulfils something, whatever its day. */
export type SessionTest = (row: number) => boolean;

/** What rows of a scope have: marks that are looked at and must be as wanted, and a test where that is not all. */
export interface SessionTests {
  readonly marksLooked: number;
  readonly marksWanted: number;
  readonly test: SessionTest | null;
}

/** The tests of a scope's rows, made ready: they are asked of every row, so values are judged once and looked up by their code. */
export function sessionTests(index: SessionIndex, { versions, builds, filter }: SessionScope): SessionTests {
  const tests: SessionTest[] = [];
  if (versions.match !== 'any') {
    const oldest = versionSortKey(versions.version);
    const isWanted = (version: string) =>
      versions.match === 'only' ? versionSortKey(version) === oldest : versionSortKey(version) >= oldest;
    tests.push(valueTest(index, (column) => column.field === 'version', isWanted));
  }
  for (const part of conjunctsOf(filter)) if (speaksOfSessions(part)) tests.push(filterTest(index, part));
  return {
    marksLooked: mark.gone | mark.inferred | (builds === 'any' ? 0 : mark.excluded),
    marksWanted: builds === 'excluded' ? mark.excluded : 0,
    test: tests.length === 0 ? null : all(tests),
  };
}

/** Whether a row lies in a scope, whatever its day. */
export function sessionTest(index: SessionIndex, scope: SessionScope): SessionTest {
  const { marksLooked, marksWanted, test } = sessionTests(index, scope);
  const marks = index.column('marks');
  return (row) => ((marks[row] as number) & marksLooked) === marksWanted && (test === null || test(row));
}

const conjunctsOf = (filter: Filter | null): readonly Filter[] => (filter === null ? [] : filter.kind === 'and' ? filter.parts : [filter]);

/** What a filter says of reports alone: sessions are not told apart by it, and the screens say so. */
export const reportConditions = (filter: Filter | null): Filter[] => conjunctsOf(filter).filter((part) => !speaksOfSessions(part));

function speaksOfSessions(filter: Filter): boolean {
  switch (filter.kind) {
    case 'text':
      return false;
    case 'restriction':
      return filter.field === 'flags' || filter.field === 'attributes' || sessionFields.some((one) => one === filter.field);
    case 'not':
      return speaksOfSessions(filter.part);
    default:
      return filter.parts.every(speaksOfSessions);
  }
}

function filterTest(index: SessionIndex, filter: Filter): SessionTest {
  switch (filter.kind) {
    case 'and':
      return all(filter.parts.map((part) => filterTest(index, part)));
    case 'or': {
      const parts = filter.parts.map((part) => filterTest(index, part));
      return (row) => parts.some((part) => part(row));
    }
    case 'not': {
      const part = filterTest(index, filter.part);
      return (row) => !part(row);
    }
    case 'text':
      return () => true;
    case 'restriction': {
      const test = restrictedTest(index, filter);
      return filter.comparator === '!=' ? (row) => !test(row) : test;
    }
  }
}

function restrictedTest(index: SessionIndex, restriction: Restriction): SessionTest {
  const fulfils = restrictionTest(restriction);
  const { field, key } = restriction;
  return valueTest(
    index,
    (column) => column.field === field && (key === null || column.key === key),
    (value, column) => value.split(listSeparator).some((element) => fulfils({ ...column, value: element })),
  );
}

type Field = SessionIndex['fields'][number]['field'];

function valueTest(
  index: SessionIndex,
  isAsked: (column: Field) => boolean,
  fulfils: (value: string, column: Field) => boolean,
): SessionTest {
  const asked = index.fields
    .filter((column) => isAsked(column.field))
    .map((column) => ({
      codes: column.codes,
      isWanted: Uint8Array.from(column.dictionary, (value, code) => (code > 0 && fulfils(value, column.field) ? 1 : 0)),
    }));
  const [first, ...others] = asked;
  if (!first) return () => false;
  if (others.length === 0) return (row) => first.isWanted[first.codes[row] as number] === 1;
  return (row) => asked.some(({ codes, isWanted }) => isWanted[codes[row] as number] === 1);
}

function all(tests: readonly SessionTest[]): SessionTest {
  const [first, second, ...others] = tests;
  if (!first) return () => true;
  if (!second) return first;
  if (others.length === 0) return (row) => first(row) && second(row);
  return (row) => tests.every((test) => test(row));
}
