/** The last index whose value is at most `wanted`, in an ascending column; -1 when there is none. */
export function lastAtOrBefore(column: Uint32Array, wanted: number): number {
  let low = 0;
  let high = column.length;
  while (low < high) {
    const middle = (low + high) >>> 1;
    if ((column[middle] as number) <= wanted) low = middle + 1;
    else high = middle;
  }
  return low - 1;
}
