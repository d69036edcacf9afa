import { dayMs } from '../durations.ts';
import { type ReportKind, reportKinds } from '../report/report-kinds.ts';
import { failure, type Result, success } from '../result.ts';
import type { Filter } from './filter/filter.ts';
import { parseFilter } from './filter/parse-filter.ts';
import { printFilter } from './filter/print-filter.ts';

/** What every screen about data is limited to. The address bar holds it, so it parses from and prints to one. */
export interface Scope {
  /** The window ends now; null is all time. */
  readonly days: ScopeDays | null;
  /** In the order of `reportKinds`; never empty. */
  readonly kinds: readonly ReportKind[];
  readonly versions: VersionScope;
  readonly builds: BuildScope;
  /** Which cases a list shows; their reports count whatever their state. */
  readonly cases: CaseScope;
  /** Who looks after the cases that a list shows. */
  readonly assignee: AssigneeScope;
  /** What else reports must fulfil; null when nothing. */
  readonly filter: Filter | null;
}

/** Cases that want somebody: open and reopened ones; or those that were closed, those that are muted, or all. */
export const caseScopes = ['open', 'closed', 'muted', 'any'] as const;
export type CaseScope = (typeof caseScopes)[number];

/** Anybody or nobody; whoever looks, so that a view of somebody's own cases is everybody's; or somebody by their mail address. */
export const assigneeScopes = ['anybody', 'me', 'nobody'] as const;
export type AssigneeScope = (typeof assigneeScopes)[number] | `${string}@${string}`;

/** Whether reports of builds that a key excludes, such as debug builds, are left out, looked at alone, or among the others. */
export const buildScopes = ['released', 'excluded', 'any'] as const;
export type BuildScope = (typeof buildScopes)[number];

export const scopeDays = [1, 7, 14, 30, 90] as const;
export type ScopeDays = (typeof scopeDays)[number];

export type VersionScope =
  | { readonly match: 'any' }
  | { readonly match: 'only'; readonly version: string }
  | { readonly match: 'from'; readonly version: string };

export const defaultScope: Scope = {
  days: 30,
  kinds: ['crash', 'hang', 'kill'],
  versions: { match: 'any' },
  builds: 'released',
  cases: 'open',
  assignee: 'anybody',
  filter: null,
};

/** What addresses and views of earlier versions call the builds. */
const earlierBuilds: Readonly<Record<string, BuildScope>> = { apart: 'excluded' };

/** The names that a scope has in an address. */
export const scopeParameters = ['last', 'kind', 'version', 'builds', 'cases', 'assignee', 'filter'] as const;

/**
 * Reads a scope from address parameters: `last=14d` or `last=all`, `kind=crash,hang`, `version=4.2.0` or
 * `version=4.2.0+` for that one and later, and `filter` in the grammar of AIP-160. What is absent takes its default.
 */
export function parseScope(parameters: { get(name: string): string | null }): Result<Scope, 'bad-scope'> {
  const last = parameters.get('last');
  const days = last === null ? defaultScope.days : last === 'all' ? null : scopeDays.find((one) => `${one}d` === last);
  if (days === undefined)
    return failure('bad-scope', `last=${last} is not known; use ${scopeDays.map((one) => `${one}d`).join(', ')} or all`);

  const kindText = parameters.get('kind');
  const wanted = kindText === null ? defaultScope.kinds : kindText.split(',');
  const unknown = wanted.find((kind) => !reportKinds.some((known) => known === kind));
  if (unknown !== undefined || wanted.length === 0)
    return failure('bad-scope', `kind=${kindText} is not known; use one or more of ${reportKinds.join(', ')}`);
  const kinds = reportKinds.filter((kind) => wanted.includes(kind));

  const version = parameters.get('version')?.trim() ?? '';
  if (version.length > 101) return failure('bad-scope', 'version is longer than 100 characters');
  const versions: VersionScope =
    version === '' || version === '+'
      ? { match: 'any' }
      : version.endsWith('+')
        ? { match: 'from', version: version.slice(0, -1) }
        : { match: 'only', version };
  const buildText = parameters.get('builds');
  const builds = buildText === null ? defaultScope.builds : buildScopes.find((one) => one === (earlierBuilds[buildText] ?? buildText));
  if (builds === undefined) return failure('bad-scope', `builds=${buildText} is not known; use one of ${buildScopes.join(', ')}`);
  const caseText = parameters.get('cases');
  const cases = caseText === null ? defaultScope.cases : caseScopes.find((one) => one === caseText);
  if (cases === undefined) return failure('bad-scope', `cases=${caseText} is not known; use one of ${caseScopes.join(', ')}`);
  const assignee = readAssignee(parameters.get('assignee') ?? defaultScope.assignee);
  if (assignee === null)
    return failure('bad-scope', `assignee=${parameters.get('assignee')} is not known; use ${assigneeScopes.join(', ')} or a mail address`);
  const filter = parseFilter(parameters.get('filter') ?? '');
  if (!filter.ok) return failure('bad-scope', `filter, character ${filter.problem.at + 1}: ${filter.problem.message}`);
  return success({ days, kinds, versions, builds, cases, assignee, filter: filter.value });
}

const longestAddress = 254;

function readAssignee(text: string): AssigneeScope | null {
  const known = assigneeScopes.find((one) => one === text);
  if (known) return known;
  return /^[^\s@]+@[^\s@]+$/.test(text) && text.length <= longestAddress ? (text as AssigneeScope) : null;
}

/** Prints a scope as address parameters, shortest form: what has its default is left out. */
export function printScope(scope: Scope): string {
  const parts: string[] = [];
  if (scope.days !== defaultScope.days) parts.push(`last=${scope.days === null ? 'all' : `${scope.days}d`}`);
  if (scope.kinds.join() !== defaultScope.kinds.join()) parts.push(`kind=${scope.kinds.join(',')}`);
  if (scope.versions.match !== 'any')
    parts.push(`version=${encodeURIComponent(scope.versions.version)}${scope.versions.match === 'from' ? '%2B' : ''}`);
  if (scope.builds !== defaultScope.builds) parts.push(`builds=${scope.builds}`);
  if (scope.cases !== defaultScope.cases) parts.push(`cases=${scope.cases}`);
  if (scope.assignee !== defaultScope.assignee) parts.push(`assignee=${encodeURIComponent(scope.assignee)}`);
  if (scope.filter !== null) parts.push(`filter=${encodeURIComponent(printFilter(scope.filter))}`);
  return parts.join('&');
}

const kindWords: Readonly<Record<ReportKind, string>> = { crash: 'crashes', hang: 'hangs', kill: 'kills', error: 'handled errors' };

/** The kinds as the scope sentence says them: "Crashes, hangs and kills". */
export function wordKinds(kinds: readonly ReportKind[]): string {
  if (kinds.length === reportKinds.length) return 'All reports';
  const words = kinds.map((kind) => kindWords[kind]);
  const text = words.length > 1 ? `${words.slice(0, -1).join(', ')} and ${words.at(-1)}` : (words[0] as string);
  return text.charAt(0).toUpperCase() + text.slice(1);
}

/** How many days of UTC a scope spans. One day is yesterday and today so far, which hold the last 24 hours at any time of the day. */
export const daysSpanned = (days: ScopeDays): number => Math.max(days, 2);

/** The first moment that a scope is about, in milliseconds since 1970. */
export const beginOfWindow = (days: ScopeDays, now: number): number => (Math.floor(now / dayMs) - daysSpanned(days) + 1) * dayMs;

/** From when to when a scope looks, in days of UTC: "25 Nov to 1 Dec, UTC". */
export function wordWindow(days: Scope['days'], now: number): string {
  if (days === null) return 'from the first report and session to now';
  const word = (at: number) => dayFormat.format(new Date(at));
  return `${word(beginOfWindow(days, now))} to ${word(now)}, UTC`;
}

const dayFormat = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', timeZone: 'UTC' });

export const wordVersions = (versions: VersionScope): string =>
  versions.match === 'any' ? 'any version' : versions.match === 'only' ? versions.version : `${versions.version} and later`;

export const wordBuilds = (builds: BuildScope): string =>
  ({ released: 'released builds', excluded: 'excluded builds', any: 'any build' })[builds];

export const wordCases = (cases: CaseScope): string =>
  ({ open: 'open cases', closed: 'closed cases', muted: 'muted cases', any: 'cases of any state' })[cases];

/** Whose cases they are, as it stands behind them: "open cases, anybody’s". */
export const wordAssignee = (assignee: AssigneeScope): string => (assignee === 'me' ? 'mine' : `${assignee}’s`);

/** Everything there is. */
export const wholeScope: Scope = {
  days: null,
  kinds: reportKinds,
  versions: { match: 'any' },
  builds: 'any',
  cases: 'any',
  assignee: 'anybody',
  filter: null,
};

/** What of a scope decides which reports it holds; the rest is about the cases that a list shows. */
export const scopeOfReports = (scope: Scope): Scope => ({ ...scope, cases: 'any', assignee: 'anybody' });

export const wordDays = (days: ScopeDays | null): string =>
  days === null ? 'all time' : days === 1 ? 'since yesterday' : `last ${days} days`;
