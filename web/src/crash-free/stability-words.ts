import type { Comparison } from '@rough-ember/core/stability/difference';
import type { Estimate } from '@rough-ember/core/stability/share';
import { wordNumber } from '../words/numbers';

/** A share of sessions or people in percent, with the digits that tell 99.5 from 99.9. */
export function wordFree(share: number): string {
  // Behind the API it is null where nothing was counted.
  if (!Number.isFinite(share)) return '–';
  const percent = 100 * share;
  return `${percent > 99.95 && percent < 100 ? percent.toFixed(3) : percent.toFixed(2)} %`;
}

/** A rate for 1,000 sessions, with the digits that tell: `0.42`, `7`, `12.3`, `1,235`. */
export function wordThousandth(rate: number): string {
  if (!Number.isFinite(rate)) return '–';
  return rate >= 100 ? wordNumber(Math.round(rate)) : String(Number(rate.toFixed(rate >= 10 ? 1 : 2)));
}

/** "3.8 to 4.1" */
export const wordRange = ({ low, high }: Pick<Estimate, 'low' | 'high'>, word = wordThousandth): string => `${word(low)} to ${word(high)}`;

/** What a comparison of crash rates comes to, in words: "worse by 2.1 for 1,000 sessions (1.7 to 2.5)". */
export function wordComparison({ verdict, difference, more }: Comparison, unit = 'for 1,000 sessions'): string {
  const size = (part: number) => wordThousandth(1_000 * Math.abs(part));
  switch (verdict) {
    case 'worse':
      return `worse by ${size(difference.value)} ${unit} (${size(difference.low)} to ${size(difference.high)})`;
    case 'better':
      return `better by ${size(difference.value)} ${unit} (${size(difference.high)} to ${size(difference.low)})`;
    case 'alike':
      return 'no difference to speak of';
    case 'too-early':
      return more === null ? 'too early to say' : `too early to say: it takes about ${wordNumber(roundedUp(more))} more sessions`;
  }
}

/** A number that is only about right, with two digits that tell. */
export function roundedUp(count: number): number {
  const step = 10 ** Math.max(0, Math.floor(Math.log10(Math.max(1, count))) - 1);
  return Math.ceil(count / step) * step;
}

/** A verdict in a word, for tables. */
export const verdictWords = { better: 'better', worse: 'worse', alike: 'alike', 'too-early': 'too early' } as const;
