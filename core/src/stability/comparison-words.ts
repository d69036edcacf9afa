import { dayMs } from '../durations.ts';
import type { Day } from '../session-index/person-day.ts';
import type { Comparison, Verdict } from './comparison.ts';
import type { Estimate } from './share.ts';
import type { BaselineReason, VersionComparison } from './version-comparison.ts';

/** A rate for 1,000 sessions, with the digits that tell: `0.42`, `7`, `12.3`, `1,235`. Behind the API it is null where nothing was counted. */
export function wordThousandth(rate: number): string {
  if (!Number.isFinite(rate)) return '–';
  return rate >= 100 ? new Intl.NumberFormat('en-GB').format(Math.round(rate)) : String(Number(rate.toFixed(rate >= 10 ? 1 : 2)));
}

/** A share of sessions or people in percent, with the digits that tell 99.5 from 99.9. */
export function wordFree(share: number): string {
  // Behind the API it is null where nothing was counted.
  if (!Number.isFinite(share)) return '–';
  const percent = 100 * share;
  return `${percent > 99.95 && percent < 100 ? percent.toFixed(3) : percent.toFixed(2)} %`;
}

/** "3.8 to 4.1" */
export const wordRange = ({ low, high }: Pick<Estimate, 'low' | 'high'>, word = wordThousandth): string => `${word(low)} to ${word(high)}`;

/** A verdict in a word, for tables. */
export const verdictWords: Readonly<Record<Verdict, string>> = {
  better: 'better',
  worse: 'worse',
  alike: 'alike',
  'too-early': 'too early',
};

/** A share as so many in a thousand, without its sign. */
const size = (share: number): string => wordThousandth(1_000 * Math.abs(share));

/** The verdict in a few words: "worse than 4.2.0". */
export const wordVerdict = (verdict: Verdict, than: string): string =>
  ({ worse: `worse than ${than}`, better: `better than ${than}`, alike: `like ${than}`, 'too-early': `too early to compare with ${than}` })[
    verdict
  ];

/** What follows on the verdict: " by 2.1 for 1,000 sessions (1.7 to 2.5)". */
export function wordDifference({ verdict, difference, standardised, detectable }: Comparison, halfBy: Day | null = null): string {
  const { value, low, high } = standardised ?? difference;
  switch (verdict) {
    case 'worse':
      return ` by ${size(value)} for 1,000 sessions (${size(low)} to ${size(high)})`;
    case 'better':
      return ` by ${size(value)} for 1,000 sessions (${size(high)} to ${size(low)})`;
    case 'alike':
      return ', no difference to speak of';
    case 'too-early': {
      if (detectable === null) return ': too few people, or too few of them met a crash';
      const later = halfBy === null ? '' : `, one of ${size(detectable / 2)} from about ${wordDay(halfBy)}`;
      return `: by now a difference of ${size(detectable)} for 1,000 sessions would show${later}`;
    }
  }
}

/** What a comparison of crash rates comes to: "worse than 4.2.0 by 2.1 for 1,000 sessions (1.7 to 2.5)". */
export const wordComparison = (
  comparison: Comparison,
  { than, halfBy = null }: { readonly than: string; readonly halfBy?: Day | null },
): string => `${wordVerdict(comparison.verdict, than)}${wordDifference(comparison, halfBy)}`;

const dayFormat = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', timeZone: 'UTC' });
const wordDay = (day: Day): string => dayFormat.format(new Date(day * dayMs));

/**
 * That the plain rates say otherwise than like compared with like: "The plain rates differ by −5.3: other devices and countries make up
 * most of that." Null where they agree.
 */
export function wordDisagreement({ difference, standardised }: Comparison): string | null {
  if (standardised === null) return null;
  const isSure = ({ low, high }: Estimate) => (low > 0 ? 1 : high < 0 ? -1 : 0);
  if (isSure(difference) === isSure(standardised)) return null;
  const plain = `${difference.value > 0 ? '+' : '−'}${size(difference.value)}`;
  return `The plain rates differ by ${plain} for 1,000 sessions, but those who have it are not like the others: among equal systems, devices and countries it is ${
    standardised.value > 0 ? '+' : '−'
  }${size(standardised.value)} (${signed(standardised.low)} to ${signed(standardised.high)}).`;
}

const signed = (share: number): string => `${share > 0 ? '+' : share < 0 ? '−' : ''}${size(share)}`;

const reasonWords: Readonly<Record<BaselineReason, string>> = {
  chosen: 'chosen',
  'out-to-everybody': 'the last version before it that was out to everybody',
  'most-used': 'the most used version before it',
};

/** With what a version is compared, why, and over which days: "4.2.0, the last version before it that was out to everybody, since 2026-11-26". */
export const wordBaseline = ({ than, reason, alignment, spans }: VersionComparison): string =>
  `${than}, ${reasonWords[reason]}, ${
    alignment === 'days'
      ? `both since ${wordDay(spans.newer.first)}`
      : `each over its first ${spans.newer.last - spans.newer.first + 1} days`
  }`;
