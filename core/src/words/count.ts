const whole = new Intl.NumberFormat('en-GB');

/** `1284` → `1,284`; the same on the server and in the browser. */
export const wordNumber = (value: number): string => whole.format(value);

/** `1 report`, `2 reports`. */
export const wordCount = (count: number, one: string, many: string): string => `${wordNumber(count)} ${count === 1 ? one : many}`;

/** `0.873` → `87 %`; what is nearly all or nearly nothing keeps a digit, since 99.6 % is not everybody. */
export function wordShare(share: number): string {
  const percent = 100 * share;
  const isNear = (percent > 0 && percent < 1) || (percent > 99 && percent < 100);
  return `${isNear ? percent.toFixed(1) : Math.round(percent)} %`;
}

/** A rate for 1,000 sessions: two digits that tell, as in `0.042`, `1.3` or `27`. */
export const wordRate = (rate: number): string =>
  rate === 0 ? '0' : rate >= 10 ? wordNumber(Math.round(rate)) : rate >= 1 ? rate.toFixed(1) : String(Number(rate.toPrecision(2)));
