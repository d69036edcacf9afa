/** Beyond this many the rest is only counted: a remark is read by a person. */
const mostRemarks = 20;
const longestPlace = 120;

/** What was changed so that an item could be kept, each kind of change at each kind of place told once. */
export class Remarks {
  private readonly counts = new Map<string, { first: string; more: number }>();

  /** Notes a change; places that differ only in positions in a list count as one. */
  note(path: readonly PropertyKey[], change: string): void {
    const place = wordPath(path);
    const kind = `${place.replace(/\[\d+\]/g, '[]')} ${change}`;
    const known = this.counts.get(kind);
    if (known) known.more++;
    else this.counts.set(kind, { first: `${place} ${change}`.trim(), more: 0 });
  }

  /** One sentence for each. */
  list(): string[] {
    const told = [...this.counts.values()].map(({ first, more }) => (more === 0 ? first : `${first} (and ${more} more like it)`));
    if (told.length <= mostRemarks) return told;
    return [...told.slice(0, mostRemarks - 1), `${told.length - mostRemarks + 1} further changes`];
  }
}

/** `exceptions[0].frames[3].line` */
export function wordPath(path: readonly PropertyKey[]): string {
  const word = path.reduce<string>(
    (before, part) => (typeof part === 'number' ? `${before}[${part}]` : before === '' ? String(part) : `${before}.${String(part)}`),
    '',
  );
  return word.length > longestPlace ? `${word.slice(0, longestPlace - 1)}…` : word;
}
