import type { StringTable } from '../../bytes/string-table.ts';

/** The stretches of functions in the sources of a map, as its index holds them: one begins where the one before ends. */
export interface Stretches {
  readonly strings: StringTable;
  /** Of each source, its first stretch; one more at the end. */
  readonly sourceScopes: ArrayLike<number>;
  /** From 1. */
  readonly scopeLine: ArrayLike<number>;
  /** From 0. */
  readonly scopeColumn: ArrayLike<number>;
  readonly scopeName: ArrayLike<number>;
  nameOf(source: number): string | null;
  /** All lines of a source; null when the map holds no text of it. */
  linesOf(source: number): readonly string[] | null;
}

interface Stretch {
  readonly source: number;
  readonly stretch: number;
}

/** Functions of one name whose code is looked through; a name that so many have tells nothing. */
const mostStretches = 60;
const mostCharacters = 20_000;

/** Which functions are called in the code of a function, by the texts of the sources: names alone, as they are written. */
export class CallsInSources {
  private byName: ReadonlyMap<string, readonly Stretch[]> | null = null;
  private readonly known = new Map<string, ReadonlySet<string>>();

  /** The source that was looked into last: its stretches are asked for one after the other. */
  private last: { readonly source: number; readonly lines: readonly string[] | null } | null = null;

  constructor(private readonly stretches: Stretches) {}

  /** The names called by the functions of this name, wherever they are declared; null when there is none, or too many. */
  of(name: string): ReadonlySet<string> | null {
    const declared = this.declared().get(name);
    if (!declared || declared.length > mostStretches) return null;
    const known = this.known.get(name);
    if (known) return known;
    const calls = new Set<string>();
    for (const { source, stretch } of declared)
      for (const [, called = ''] of this.textOf(source, stretch).matchAll(/([\p{L}_$][\p{L}\p{N}_$]*)\s*(?:\?\.\s*)?\(/gu))
        calls.add(called);
    this.known.set(name, calls);
    return calls;
  }

  /** The source that the function of this name stands in; null when there is none, or several. */
  sourceOf(name: string): string | null {
    const sources = new Set(
      this.declared()
        .get(name)
        ?.map(({ source }) => source),
    );
    return sources.size === 1 ? this.stretches.nameOf([...sources][0] as number) : null;
  }

  private declared(): ReadonlyMap<string, readonly Stretch[]> {
    if (this.byName) return this.byName;
    const { sourceScopes, scopeName, strings } = this.stretches;
    const byName = new Map<string, Stretch[]>();
    const names = new Map<number, string>();
    for (let source = 0; source + 1 < sourceScopes.length; source++)
      for (let stretch = sourceScopes[source] as number; stretch < (sourceScopes[source + 1] as number); stretch++) {
        const id = scopeName[stretch] as number;
        const name = names.get(id) ?? plainName(strings.get(id));
        names.set(id, name);
        const known = byName.get(name);
        if (!known) byName.set(name, [{ source, stretch }]);
        else if (known.length <= mostStretches) known.push({ source, stretch });
      }
    this.byName = byName;
    return byName;
  }

  private textOf(source: number, stretch: number): string {
    const { sourceScopes, scopeLine, scopeColumn } = this.stretches;
    if (this.last?.source !== source) this.last = { source, lines: this.stretches.linesOf(source) };
    const { lines } = this.last;
    if (!lines) return '';
    const [firstLine, firstColumn] = [(scopeLine[stretch] as number) - 1, scopeColumn[stretch] as number];
    const isLast = stretch + 1 === sourceScopes[source + 1];
    const [lastLine, lastColumn] = isLast
      ? [lines.length - 1, Number.POSITIVE_INFINITY]
      : [(scopeLine[stretch + 1] as number) - 1, scopeColumn[stretch + 1] as number];
    const text = lines.slice(firstLine, lastLine + 1);
    if (text.length > 0) text[text.length - 1] = (text.at(-1) as string).slice(0, lastColumn);
    if (text.length > 0) text[0] = (text[0] as string).slice(firstColumn);
    return text.join('\n').slice(0, mostCharacters);
  }
}

/** A function's name as callers write it: "get Shelf.first" → "first"; "new Shelf" → "Shelf". */
export const plainName = (name: string): string => {
  const written = name.replace(/^(?:async |new |get |set |static )+/, '');
  return written.slice(written.lastIndexOf('.') + 1);
};
