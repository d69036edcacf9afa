const whole = new Intl.NumberFormat('en-GB');

/** `1284` → `1,284`; the same on the server and in the browser. */
export const wordNumber = (value: number): string => whole.format(value);

/** `1 report`, `2 reports`. */
export const wordCount = (count: number, one: string, many: string): string => `${wordNumber(count)} ${count === 1 ? one : many}`;

/** Bytes in the unit that leaves at most three digits before the point. */
export function wordBytes(bytes: number): string {
  if (bytes < 1000) return `${bytes} B`;
  const steps = Math.min(3, Math.floor(Math.log10(bytes) / 3));
  const value = bytes / 1000 ** steps;
  return `${value >= 10 ? Math.round(value) : Math.round(value * 10) / 10} ${['B', 'kB', 'MB', 'GB'][steps]}`;
}
