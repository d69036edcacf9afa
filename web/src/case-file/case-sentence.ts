import { dayMs } from '@rough-ember/core/durations';
import { wordField } from '@rough-ember/core/fields/fields';
import type { StandingOut, StandOuts } from '@rough-ember/core/report-index/stand-out';
import type { CaseItem } from '@rough-ember/server/desk/case-list';
import { wordCount, wordNumber, wordRate, wordShare } from '../words/numbers';
import { wordAgo, wordSpan } from '../words/time';

/** A part of a sentence; the strong ones are what a reader looks for. */
export interface SentencePart {
  readonly text: string;
  readonly strong: boolean;
}

const plain = (text: string): SentencePart => ({ text, strong: false });
const strong = (text: string): SentencePart => ({ text, strong: true });

interface CaseCircumstances {
  readonly now: string;
  /** People who used the app; null where sessions do not tell. */
  readonly activePeople?: number | null;
  /** When the version that it began in came out; null where nobody recorded that. */
  readonly releasedAt?: string | null;
}

/** The case in a sentence: since when, until when, for how many. */
export function caseSentence(item: CaseItem, { now, activePeople = null, releasedAt = null }: CaseCircumstances): SentencePart[] {
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
function wordSinceRelease({ beganAt }: CaseItem, releasedAt: string | null): string {
  const isOut = releasedAt !== null && beganAt >= releasedAt && Date.parse(beganAt) - Date.parse(releasedAt) < newsOfReleaseMs;
  return isOut ? `, ${wordSpan(releasedAt, beganAt) ?? 'less than a minute'} after it came out` : '';
}

const newsOfReleaseMs = 30 * dayMs;

/** Of how many who used the app; nothing where that is not told. */
const wordActive = (people: number, active: number | null): string =>
  active === null ? '' : `, ${wordShare(people / active)} of ${wordNumber(active)} who used it,`;

/** How many of the values that stand out are said. */
const saidValues = 2;

/** What most of its people have in common and few others have; nothing where nothing is that clear. */
export function commonSentence({ values }: Pick<StandOuts, 'values'>): SentencePart[] {
  const said: StandingOut[] = [];
  for (const one of values)
    if (one.share >= 0.6 && one.lift.low >= 2 && said.length < saidValues && said.every(({ term }) => term.field !== one.term.field))
      said.push(one);
  if (said.length === 0) return [];
  const words = said.flatMap(({ term, share, shareOfOthers }, at) => [
    plain(at === 0 ? (share >= 0.95 ? ' Nearly only with ' : ' Mostly with ') : ' and '),
    strong(`${wordField(term.field, term.key || null)} ${term.value}`),
    plain(` (${wordShare(share)} here, ${wordShare(shareOfOthers)} of others)`),
  ]);
  return [...words, plain('.\u00a0')];
}
