import { dayMs } from '../durations.ts';
import { wordCount, wordNumber, wordRate, wordShare } from '../words/count.ts';
import { wordAgo, wordSpan } from '../words/time.ts';
import { plain, type SentencePart, strong } from './common-sentence.ts';

/** The figures of a case. Moments are ISO texts in UTC. */
export interface CaseFigures {
  readonly firstVersion: string;
  readonly lastVersion: string;
  readonly beganAt: string;
  readonly lastAt: string;
  readonly reports: number;
  readonly people: number;
  /** Reports for 1,000 sessions of the versions it happens in; null where no session was told. */
  readonly perThousand: number | null;
}

export interface CaseCircumstances {
  readonly now: string;
  /** People who used the app; null where sessions do not tell. */
  readonly activePeople?: number | null;
  /** When the version that it began in came out; null where nobody recorded that. */
  readonly releasedAt?: string | null;
}

/** The case in a sentence: since when, until when, for how many. */
export function caseSentence(item: CaseFigures, { now, activePeople = null, releasedAt = null }: CaseCircumstances): SentencePart[] {
  const { firstVersion, lastVersion } = item;
  return [
    plain('Began in '),
    strong(firstVersion),
    plain(`, ${wordAgo(item.beganAt, now)}${wordSinceRelease(item, releasedAt)}`),
    ...(lastVersion === firstVersion
      ? [plain('; seen in no other version. ')]
      : [plain('; last seen in '), strong(lastVersion), plain('. ')]),
    ...(item.people === 0
      ? []
      : [strong(wordCount(item.people, 'person', 'people')), plain(`${wordActive(item.people, activePeople)} in `)]),
    strong(wordCount(item.reports, 'report', 'reports')),
    ...(item.perThousand === null ? [] : [plain(', '), strong(wordRate(item.perThousand)), plain(' for 1,000 sessions of these versions')]),
    plain(`, the latest ${wordAgo(item.lastAt, now)}.`),
  ];
}

/** How long the version was out when the first report came; of an old version that is no news. */
function wordSinceRelease({ beganAt }: CaseFigures, releasedAt: string | null): string {
  const isOut = releasedAt !== null && beganAt >= releasedAt && Date.parse(beganAt) - Date.parse(releasedAt) < newsOfReleaseMs;
  return isOut ? `, ${wordSpan(releasedAt, beganAt) ?? 'less than a minute'} after it came out` : '';
}

const newsOfReleaseMs = 30 * dayMs;

/** Of how many who used the app; nothing where that is not told. */
const wordActive = (people: number, active: number | null): string =>
  active === null ? '' : `, ${wordShare(people / active)} of ${wordNumber(active)} who used it,`;
