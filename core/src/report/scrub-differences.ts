import type { Report } from './report.ts';
import { Scrubber, type ScrubRules } from './scrub.ts';

/** A text that rules would change: where in the report it stands, and how it reads before and after, around the first difference. */
export interface ScrubDifference {
  /** Such as `trail[3].message`. */
  readonly where: string;
  readonly before: string;
  readonly after: string;
}

const shownBefore = 40;
const shownCharacters = 160;

/** The texts of a stored report that rules would change, at most `most`. */
export function scrubDifferences(rules: ScrubRules, report: Report, most: number): ScrubDifference[] {
  const found: ScrubDifference[] = [];
  const compare = (before: unknown, after: unknown, where: string): void => {
    if (found.length >= most || before === after) return;
    if (typeof before !== 'object' || before === null || typeof after !== 'object' || after === null) {
      found.push({ where, ...around(String(before), String(after)) });
      return;
    }
    // Scrubbing keeps the order, so what stands at one place belongs together, even when its name was changed.
    const others = Object.entries(after);
    for (const [place, [name, value]] of Object.entries(before).entries()) {
      const [otherName, otherValue] = others[place] ?? [name, undefined];
      const inside = Array.isArray(before) ? `${where}[${name}]` : where === '' ? name : `${where}.${name}`;
      if (otherName !== name && found.length < most) found.push({ where: `name of ${inside}`, ...around(name, otherName) });
      compare(value, otherValue, inside);
    }
  };
  compare(report, new Scrubber(rules).report(report), '');
  return found;
}

function around(before: string, after: string): { before: string; after: string } {
  let same = 0;
  while (same < before.length && before[same] === after[same]) same++;
  const from = Math.max(0, same - shownBefore);
  const excerpt = (text: string) =>
    `${from > 0 ? '…' : ''}${text.slice(from, from + shownCharacters)}${text.length > from + shownCharacters ? '…' : ''}`;
  return { before: excerpt(before), after: excerpt(after) };
}
