/** Lines of a file, from 1, both ends among them. */
export interface LineRange {
  readonly first: number;
  readonly last: number;
}

/** How far a function is looked for, and how long it may be. */
const mostLines = 400;

/** The last part of a qualified name: `com.larkfield.NightMap.tileFor$1` → `tileFor`. */
export function plainFunctionName(qualified: string): string {
  const bare = qualified.replace(/\(.*$/s, '').replace(/<[^<>]*>/g, '');
  const last =
    bare
      .split(/[.:#/\s]+/)
      .filter(Boolean)
      .at(-1) ?? '';
  return last.replace(/[$`].*$/, '').replace(/[^\p{L}\p{N}_]/gu, '');
}

/**
 * The lines of the function that a line lies in: from the nearest line above that names it with a bracket behind and calls nothing, to where the indentation
 * comes back to that line's. It is a guess by the form of the text, which holds for languages with brackets and for those without; null when nothing above looks like it.
 */
export function functionRange(text: string, qualified: string, line: number): LineRange | null {
  const name = plainFunctionName(qualified);
  const lines = text.split('\n');
  if (name === '' || line < 1 || line > lines.length) return null;
  const declares = new RegExp(`(^|[^\\p{L}\\p{N}_.])${name}\\s*(<[^>]*>)?\\s*(\\(|=\\s*(async\\s*)?\\(|:)`, 'u');
  for (let at = line - 1; at >= Math.max(0, line - mostLines); at--) {
    const here = lines[at] as string;
    if (!declares.test(here) || /^\s*(return|await|if|while|for|\/\/|\*|#)\b/.test(here) || (at < line - 1 && /;\s*$/.test(here))) continue;
    const first = at + 1;
    const depth = indentOf(here);
    for (let end = at + 1; end < Math.min(lines.length, at + mostLines); end++) {
      const next = lines[end] as string;
      if (next.trim() === '' || indentOf(next) > depth) continue;
      // A bracket that opens the body on a line of its own, or closes it, still belongs to it.
      if (/^\s*[{]/.test(next)) continue;
      const last = /^\s*[})\]]/.test(next) && indentOf(next) === depth ? end + 1 : end;
      return last >= line ? { first, last } : null;
    }
    return { first, last: Math.min(lines.length, at + mostLines) };
  }
  return null;
}

const indentOf = (text: string): number => /^[ \t]*/.exec(text)?.[0].replaceAll('\t', '    ').length ?? 0;
