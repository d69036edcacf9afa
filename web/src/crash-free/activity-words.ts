import { badVisits, perThousand } from '@rough-ember/core/stability/figures';
import { type Estimate, shareOf } from '@rough-ember/core/stability/share';
import type { AppRequests, AppScreens, RequestItem, ScreenItem } from '@rough-ember/server/stability/app-activity';
import { wordNumber } from '../words/numbers';

/** What went wrong on a screen in 1,000 visits, with its interval; nothing where no session tells of visits. */
export const rateOfScreen = ({ visits, reports }: Pick<ScreenItem, 'visits' | 'reports'>): Estimate | null =>
  visits === 0 ? null : perThousand(badVisits({ visits, reports }));

/** The share of requests that failed, with its interval. */
export const failuresOf = ({ count, failed }: Pick<RequestItem, 'count' | 'failed'>): Estimate => shareOf(failed, count);

/** A share that is small in most rows, with a digit behind the point: `4.8 %`. */
export const wordFailures = (share: number): string => `${(100 * share).toFixed(1)} %`;

/** A duration with two digits that tell: `85 ms`, `1.2 s`, `8 s`. */
export function wordMs(ms: number | null): string {
  if (ms === null) return '–';
  if (ms < 1_000) return `${wordNumber(Math.round(Number(ms.toPrecision(2))))} ms`;
  const seconds = ms / 1_000;
  return `${seconds < 10 ? Number(seconds.toFixed(1)) : wordNumber(Math.round(seconds))} s`;
}

type Lines = (string | number | null)[][];

/** The screens as lines of a file. */
export const screenLines = ({ screens }: AppScreens): Lines => [
  ['screen', 'visits', 'sessions', 'persons', 'reports', 'persons with a report'],
  ...screens.map((one) => [one.screen, one.visits, one.sessions, one.persons, one.reports, one.people]),
];

/** The requests as lines of a file. */
export const requestLines = ({ requests }: AppRequests): Lines => [
  ['request', 'count', 'failed', 'persons', 'median ms', '95th percentile ms', 'reports after a failure'],
  ...requests.map((one) => [one.request, one.count, one.failed, one.persons, one.medianMs, one.p95Ms, one.reportsAfter]),
];
