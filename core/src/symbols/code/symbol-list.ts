/** A function symbol of a symbol table; addresses count from the base of the image. */
export interface CodeSymbol {
  readonly start: number;
  /** 0 when the table does not tell. */
  readonly size: number;
  /** None for a function of which only the start is known. */
  readonly name: number;
  /** Which of several names of one place is the better one: the larger. */
  readonly rank: number;
}

/** The symbols ascending by address, one for each address, and where each ends. */
export function sortSymbols(
  symbols: readonly CodeSymbol[],
  endOfCode: (start: number) => number,
): { start: Uint32Array; end: Uint32Array; name: Uint32Array } {
  const sorted = [...symbols].sort((a, b) => a.start - b.start || b.rank - a.rank || b.size - a.size || a.name - b.name);
  const distinct = sorted.filter((symbol, index) => index === 0 || symbol.start !== (sorted[index - 1] as CodeSymbol).start);
  return {
    start: Uint32Array.from(distinct, (symbol) => symbol.start),
    // A symbol without a size, as hand-written assembly has, reaches to the next one, but not out of its section.
    end: Uint32Array.from(distinct, ({ start, size }, index) =>
      size > 0 ? start + size : Math.min(distinct[index + 1]?.start ?? Number.POSITIVE_INFINITY, endOfCode(start)),
    ),
    name: Uint32Array.from(distinct, (symbol) => symbol.name),
  };
}
