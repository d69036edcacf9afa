import { reportKinds } from '../report/report-kinds.ts';
import { printFilter } from '../scope/filter/print-filter.ts';
import { wordKinds, wordVersions } from '../scope/scope.ts';
import { wordCount, wordNumber } from '../words/count.ts';
import { type AlertRule, type AlertSubject, alertKinds, scopeOfRule } from './alert-rule.ts';
import { kindChoices } from './kind-words.ts';

const allKinds = wordKinds(reportKinds).toLowerCase();

/** What a rule is about, with its bounds; `kinds` are those of its scope, in words. */
function wordSubject(what: AlertSubject, kinds: string): string {
  switch (what.kind) {
    case 'count': {
      const since = what.days === 1 ? 'since yesterday' : 'in 7 days';
      return what.of === 'people'
        ? `${wordNumber(what.atLeast)} or more people meet ${kinds} ${since}`
        : `${wordNumber(what.atLeast)} or more ${kinds} are reported ${since}`;
    }
    case 'report':
      return kinds === allKinds ? kindChoices.report : `any report of ${kinds} comes`;
    case 'symbols':
      return `a symbol file is missing that ${wordNumber(what.reports)} or more reports ask for`;
    case 'silence':
      return `nothing comes for ${wordCount(what.hours, 'hour', 'hours')}, though something always did`;
    case 'refusals':
      return `intake refuses more than ${wordNumber(what.percent)} % of an hour’s requests`;
    case 'sheet':
      return `a week begins, with the figures of the sheet ${what.sheet}`;
    case 'case-begins':
    case 'case-returns':
    case 'case-worse':
      return `${kindChoices[what.kind]}, of ${kinds}`;
    default:
      return kindChoices[what.kind];
  }
}

/** What a rule is about and within which scope. */
function wordWhat({ what, where }: Pick<AlertRule, 'what' | 'where'>): string {
  const scope = scopeOfRule({ what, where });
  if (!scope.ok) return `${kindChoices[what.kind]} in a scope that cannot be read any more`;
  const { kinds, versions, filter, builds } = scope.value;
  const parts = [wordSubject(what, wordKinds(kinds).toLowerCase())];
  if (!alertKinds[what.kind].hasScope) return parts.join(' ');
  if (versions.match !== 'any') parts.push(`in ${wordVersions(versions)}`);
  if (builds !== 'released') parts.push(builds === 'any' ? 'in any build' : 'in excluded builds');
  if (filter !== null) parts.push(`where ${printFilter(filter)}`);
  return parts.join(' ');
}

/** Whom a rule tells, with the names of its channels. */
export function wordWhom({ people, channels }: AlertRule['whom'], nameOf: (channel: number) => string | undefined): string {
  const named = channels.map((id) => nameOf(id) ?? 'a channel that is gone');
  const persons =
    people === 'everybody'
      ? ['everybody who sees the app']
      : people === 'looking-after'
        ? ['whoever looks after the case']
        : people === 'nobody'
          ? []
          : people;
  const all = [...persons, ...named];
  return all.length > 1 ? `${all.slice(0, -1).join(', ')} and ${all.at(-1)}` : (all[0] ?? 'nobody');
}

/** How often a rule tells. */
export function wordPace({ when, everyMinutes, workingDays }: AlertRule['pace']): string {
  const often =
    when === 'hourly'
      ? 'gathered every hour'
      : when === 'daily'
        ? 'gathered once a day, at 8:00'
        : `at once, at most every ${wordCount(everyMinutes, 'minute', 'minutes')}`;
  return workingDays ? `${often}, on working days` : often;
}

/** A rule as one sentence: "When a case begins, of crashes, tell everybody who sees the app, at once, at most every 15 minutes." */
export function wordRule(rule: AlertRule, nameOf: (channel: number) => string | undefined): string {
  const until = rule.until === null ? '' : `, until ${rule.until.slice(0, 10)}`;
  return `When ${wordWhat(rule)}, tell ${wordWhom(rule.whom, nameOf)}, ${wordPace(rule.pace)}${until}.`;
}
