import type { FoundNeed, SymbolNeed } from './readable-report.ts';

const keyOf = ({ kind, symbolId, name }: SymbolNeed): string => `${kind}\n${symbolId ?? `\n${name ?? ''}`}`;

/** Collects the symbol files that the frames of a report ask for, each once, and how many frames each could restore. */
export class Needs {
  private readonly asked = new Map<string, { need: SymbolNeed; found: boolean; covered: Set<string>; uncovered: Set<string> }>();

  note(need: SymbolNeed, found: boolean): void {
    const key = keyOf(need);
    if (!this.asked.has(key)) this.asked.set(key, { need, found, covered: new Set(), uncovered: new Set() });
  }

  /** Says of a frame, by its text, whether the file that it asked for restored it; a frame that came before counts once. */
  count(need: SymbolNeed, frame: string, isCovered: boolean): void {
    const known = this.asked.get(keyOf(need));
    if (known?.found) (isCovered ? known.covered : known.uncovered).add(frame);
  }

  list(): FoundNeed[] {
    return [...this.asked.values()].map(({ need, found, covered, uncovered }) => ({
      ...need,
      found,
      ...(covered.size + uncovered.size > 0 && { frames: { covered: covered.size, uncovered: uncovered.size } }),
    }));
  }
}
