import { dayMs } from '../durations.ts';
import { reportKinds } from '../report/report-kinds.ts';
import type { Scope } from '../scope/scope.ts';
import { spanOf } from '../session-index/window.ts';
import { versionSortKey } from '../version/version-order.ts';
import { matchFilter } from './match-terms.ts';
import type { ReportIndex } from './report-index.ts';

/** A stretch of time in milliseconds since 1970; the end does not belong to it. */
export interface Window {
  readonly from: number;
  readonly to: number;
}

/** The window of a scope whose last day is that of `now`, in the very days that sessions are counted by. */
export const windowOf = ({ days }: Pick<Scope, 'days'>, now: number): Window => ({
  from: days === null ? Number.NEGATIVE_INFINITY : spanOf({ days }, now).first * dayMs,
  to: Number.POSITIVE_INFINITY,
});

/** Whether a row lies in a scope, whatever its time. */
export type RowTest = (row: number) => boolean;

/** What rows of a scope have, as columns that a loop over every row of an app reads without a call for each. */
export interface ScopeColumns {
  /** 1 for values of the columns of states, kinds and versions that are wanted. */
  readonly isWantedState: Uint8Array;
  readonly isWantedKind: Uint8Array;
  readonly isWantedVersion: Uint8Array;
  /** 1 for rows that fulfil the filter; null without one. */
  readonly fulfils: Uint8Array | null;
}

type RowScope = Pick<Scope, 'kinds' | 'versions' | 'builds' | 'filter'>;

export function scopeColumns(index: ReportIndex, scope: RowScope): ScopeColumns {
  const { versions } = scope;
  const oldest = versions.match === 'any' ? '' : versionSortKey(versions.version);
  const isWanted = (version: string) =>
    versions.match === 'any' || (versions.match === 'only' ? versionSortKey(version) === oldest : versionSortKey(version) >= oldest);
  return {
    isWantedState: index.statesWanted(scope.builds),
    isWantedKind: Uint8Array.from(reportKinds, (kind) => (scope.kinds.includes(kind) ? 1 : 0)),
    isWantedVersion: Uint8Array.from(index.versions, (version) => (isWanted(version) ? 1 : 0)),
    fulfils: scope.filter === null ? null : matchFilter(index, scope.filter),
  };
}

export function scopeTest(index: ReportIndex, scope: RowScope): RowTest {
  const { isWantedState, isWantedKind, isWantedVersion, fulfils } = scopeColumns(index, scope);
  const [kinds, states, versionOf] = [index.kinds.values, index.states.values, index.versionOf.values];
  return (row) =>
    isWantedState[states[row] as number] === 1 &&
    isWantedKind[kinds[row] as number] === 1 &&
    isWantedVersion[versionOf[row] as number] === 1 &&
    (fulfils === null || fulfils[row] === 1);
}

/** The rows that lie in a window and pass a test, of all or of those given. */
export function filterRows(index: ReportIndex, test: RowTest, { from, to }: Window, among: Int32Array | null = null): Int32Array {
  const count = among === null ? index.rows : among.length;
  const found = new Int32Array(count);
  const at = index.at.values;
  let kept = 0;
  for (let place = 0; place < count; place++) {
    const row = among === null ? place : (among[place] as number);
    const moment = at[row] as number;
    if (moment >= from && moment < to && test(row)) found[kept++] = row;
  }
  return found.subarray(0, kept);
}
