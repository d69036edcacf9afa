/** A line of two lists laid side by side; null where one of them has nothing to it. */
export interface PairedLine<Item> {
  readonly left: Item | null;
  readonly right: Item | null;
}

/** Longer lists are compared up to here, and laid side by side beyond. */
const mostCompared = 600;

/**
 * Lays two lists side by side so that as many equal items as possible face each other (longest common subsequence). Items that
 * differ stand alone, the left ones first.
 */
export function compareLists<Item>(left: readonly Item[], right: readonly Item[], nameOf: (item: Item) => string): PairedLine<Item>[] {
  const one = left.slice(0, mostCompared).map(nameOf);
  const other = right.slice(0, mostCompared).map(nameOf);
  const width = other.length + 1;
  // Longest common subsequence of what is left of both lists from each pair of places on.
  const common = new Uint16Array((one.length + 1) * width);
  for (let a = one.length - 1; a >= 0; a--)
    for (let b = other.length - 1; b >= 0; b--)
      common[a * width + b] =
        one[a] === other[b]
          ? (common[(a + 1) * width + b + 1] as number) + 1
          : Math.max(common[(a + 1) * width + b] as number, common[a * width + b + 1] as number);
  const lines: PairedLine<Item>[] = [];
  let a = 0;
  let b = 0;
  while (a < one.length || b < other.length) {
    if (a < one.length && b < other.length && one[a] === other[b]) lines.push({ left: left[a++] as Item, right: right[b++] as Item });
    else if (b >= other.length || (a < one.length && (common[(a + 1) * width + b] as number) >= (common[a * width + b + 1] as number)))
      lines.push({ left: left[a++] as Item, right: null });
    else lines.push({ left: null, right: right[b++] as Item });
  }
  for (let at = mostCompared; at < Math.max(left.length, right.length); at++)
    lines.push({ left: left[at] ?? null, right: right[at] ?? null });
  return lines;
}
