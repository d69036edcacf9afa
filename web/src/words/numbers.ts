import { wordCount, wordNumber, wordShare } from '@rough-ember/core/words/count';

export { wordCount, wordNumber, wordShare };

/** Bytes in the unit that leaves at most three digits before the point. */
export function wordBytes(bytes: number): string {
  if (bytes < 1000) return `${bytes} B`;
  const steps = Math.min(3, Math.floor(Math.log10(bytes) / 3));
  const value = bytes / 1000 ** steps;
  return `${value >= 10 ? Math.round(value) : Math.round(value * 10) / 10} ${['B', 'kB', 'MB', 'GB'][steps]}`;
}

/** A rate for 1,000 sessions: two digits that tell, as in `0.042`, `1.3` or `27`. */
export const wordRate = (rate: number): string =>
  rate === 0 ? '0' : rate >= 10 ? wordNumber(Math.round(rate)) : rate >= 1 ? rate.toFixed(1) : String(Number(rate.toPrecision(2)));
