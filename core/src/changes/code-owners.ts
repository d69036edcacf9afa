/** A line of a code owners file: paths, and who looks after them. */
export interface OwnersRule {
  readonly pattern: string;
  readonly owners: readonly string[];
}

/** Where such files lie; the first that is there counts. */
export const ownersPaths = ['CODEOWNERS', '.github/CODEOWNERS', '.gitlab/CODEOWNERS', 'docs/CODEOWNERS'] as const;

const mostRules = 5_000;

/**
 * Reads a code owners file in the form that hosting services share: a pattern and owners (`@team`, `@name` or a mail address) on each line, `#` begins a
 * comment, `\` takes a space or `#` into a pattern; headings of sections, in brackets, are passed over.
 */
export function parseOwners(text: string): OwnersRule[] {
  return text
    .split(/\r?\n/)
    .slice(0, mostRules)
    .flatMap((line) => {
      if (/^\s*(#|$|\^?\[)/.test(line)) return [];
      const words = line.replace(/(^|[^\\])\s#.*$/, '$1').match(/(?:\\.|[^\s\\])+/g) ?? [];
      const [pattern, ...owners] = words;
      return pattern === undefined ? [] : [{ pattern: pattern.replace(/\\(.)/g, '$1'), owners }];
    });
}

/** Who looks after a path: the last pattern that matches it says so; a pattern without owners leaves it to nobody. */
export function ownersOf(rules: readonly OwnersRule[], path: string): readonly string[] {
  return rules.findLast(({ pattern }) => matches(pattern, path))?.owners ?? [];
}

/** Patterns as git ignores files by (gitignore, "PATTERN FORMAT"), without negation and character classes. */
function matches(pattern: string, path: string): boolean {
  const isFolder = pattern.endsWith('/');
  const bare = pattern.replace(/^\/+|\/+$/g, '');
  const isAnchored = pattern.startsWith('/') || bare.includes('/');
  if (bare === '' || bare === '*') return true;
  return matchParts(isAnchored ? bare.split('/') : ['**', bare], path.split('/'), isFolder);
}

/** Part by part, so that no pattern costs more than its length times that of the path. */
function matchParts(pattern: readonly string[], path: readonly string[], isFolder: boolean): boolean {
  // reached[i]: the first i parts of the pattern may end here.
  let reached = new Set([0]);
  const skipDoubles = (places: Set<number>) => {
    for (const place of places) if (pattern[place] === '**') places.add(place + 1);
    return places;
  };
  reached = skipDoubles(reached);
  for (const [at, part] of path.entries()) {
    const next = new Set<number>();
    for (const place of reached) {
      // What is matched whole holds everything below it.
      if (place === pattern.length && (!isFolder || at > 0)) return true;
      const wanted = pattern[place];
      if (wanted === '**') next.add(place);
      else if (wanted !== undefined && matchName(wanted, part)) next.add(place + 1);
    }
    reached = skipDoubles(next);
  }
  return reached.has(pattern.length) && !isFolder;
}

/** `*` stands for any letters of one name, `?` for one of them. */
function matchName(pattern: string, name: string): boolean {
  let [p, n, star, mark] = [0, 0, -1, 0];
  while (n < name.length) {
    if (p < pattern.length && (pattern[p] === '?' || (pattern[p] === name[n] && pattern[p] !== '*'))) {
      p++;
      n++;
    } else if (pattern[p] === '*') {
      star = p++;
      mark = n;
    } else if (star >= 0) {
      p = star + 1;
      n = ++mark;
    } else return false;
  }
  while (pattern[p] === '*') p++;
  return p === pattern.length;
}
