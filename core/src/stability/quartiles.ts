/** Where the lower quarter, the half and the upper quarter of some numbers end. */
export interface Quartiles {
  readonly lower: number;
  readonly median: number;
  readonly upper: number;
}

/**
 * Quartiles by linear interpolation between the two nearest numbers in order (Hyndman and Fan 1996, definition 7); null of no
 * numbers.
 */
export function quartilesOf(numbers: readonly number[]): Quartiles | null {
  if (numbers.length === 0) return null;
  const sorted = Float64Array.from(numbers).sort();
  const at = (share: number): number => {
    const place = share * (sorted.length - 1);
    const below = sorted[Math.floor(place)] as number;
    const above = sorted[Math.ceil(place)] as number;
    return below + (place - Math.floor(place)) * (above - below);
  };
  return { lower: at(0.25), median: at(0.5), upper: at(0.75) };
}
