import { wordField } from '../fields/fields.ts';
import type { StandingOut, StandOuts } from '../report-index/stand-out.ts';
import { wordShare } from '../words/count.ts';

/** A part of a sentence; the strong ones are what a reader looks for. */
export interface SentencePart {
  readonly text: string;
  readonly strong: boolean;
}

/** Parts of both sorts. */
export const plain = (text: string): SentencePart => ({ text, strong: false });
export const strong = (text: string): SentencePart => ({ text, strong: true });

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
