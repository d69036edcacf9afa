import { reportLimits } from '../limits.ts';
import { printable } from '../printable.ts';
import type { ReportSection } from '../report.ts';

const shortened = '\n… the rest was left out; the file itself is attached';

/** A part of a file to be kept as it was written, cut with a note where it is too long. */
export function keepSection(name: string, text: string): ReportSection {
  const shown = printable(text.slice(0, reportLimits.sectionCharacters));
  return {
    name: printable(name).slice(0, 200),
    text:
      text.length <= reportLimits.sectionCharacters ? shown : shown.slice(0, reportLimits.sectionCharacters - shortened.length) + shortened,
  };
}
