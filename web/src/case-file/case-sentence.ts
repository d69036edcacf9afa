import type { CaseItem } from '@rough-ember/server/desk/case-list';
import { wordCount } from '../words/numbers';
import { wordAgo } from '../words/time';

/** A part of a sentence; the strong ones are what a reader looks for. */
export interface SentencePart {
  readonly text: string;
  readonly strong: boolean;
}

const plain = (text: string): SentencePart => ({ text, strong: false });
const strong = (text: string): SentencePart => ({ text, strong: true });

/** The case in a sentence: since when, until when, for how many. */
export function caseSentence(item: CaseItem, now: string): SentencePart[] {
  const { firstVersion, lastVersion } = item;
  return [
    plain('Began in '),
    strong(firstVersion),
    plain(`, ${wordAgo(item.beganAt, now)}`),
    ...(lastVersion === firstVersion
      ? [plain('; seen in no other version. ')]
      : [plain('; last seen in '), strong(lastVersion), plain('. ')]),
    ...(item.people === 0 ? [] : [strong(wordCount(item.people, 'person', 'people')), plain(' in ')]),
    strong(wordCount(item.reports, 'report', 'reports')),
    plain(`, the latest ${wordAgo(item.lastAt, now)}.`),
  ];
}
