export { wordCount, wordNumber, wordRate, wordShare } from '@rough-ember/core/words/count';

/** Bytes in the unit that leaves at most three digits before the point. */
export function wordBytes(bytes: number): string {
  if (bytes < 1000) return `${bytes} B`;
  const steps = Math.min(3, Math.floor(Math.log10(bytes) / 3));
  const value = bytes / 1000 ** steps;
  return `${value >= 10 ? Math.round(value) : Math.round(value * 10) / 10} ${['B', 'kB', 'MB', 'GB'][steps]}`;
}
