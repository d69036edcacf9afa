import type { SymbolNeed } from './readable-report.ts';

/** Collects the symbol files that the frames of a report ask for, each once. */
export class Needs {
  private readonly asked = new Map<string, SymbolNeed & { found: boolean }>();

  note(need: SymbolNeed, found: boolean): void {
    const key = `${need.kind}\n${need.symbolId ?? `\n${need.name ?? ''}`}`;
    const known = this.asked.get(key);
    if (!known) this.asked.set(key, { ...need, found });
  }

  list(): (SymbolNeed & { found: boolean })[] {
    return [...this.asked.values()];
  }
}
