/** A share of sessions or people in percent, with the digits that tell 99.5 from 99.9. */
export function wordFree(share: number): string {
  // Behind the API it is null where nothing was counted.
  if (!Number.isFinite(share)) return '–';
  const percent = 100 * share;
  return `${percent > 99.95 && percent < 100 ? percent.toFixed(3) : percent.toFixed(2)} %`;
}
