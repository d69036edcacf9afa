import { reportLimits } from '../limits.ts';
import type { Report } from '../report.ts';
import { cutStacks } from './cut-stacks.ts';
import { clipText } from './flatten-values.ts';

/** A report as it is kept: the whole of it as text, so that nothing is serialised twice. */
export interface FittedReport {
  readonly report: Report;
  /** JSON, of `reportLimits.bodyCharacters` at most. */
  readonly body: string;
  /** What was cut so that it fits, in words; the report carries them too. */
  readonly remarks: readonly string[];
}

/** Fewer and fewer parts, until a report fits; the first stack is what all of this is about and goes last. */
const smaller: readonly {
  readonly framesPerStack: number;
  readonly frames: number;
  readonly others: number;
  readonly characters: number;
}[] = [
  { framesPerStack: 500, frames: 5_000, others: 200, characters: 8_192 },
  { framesPerStack: 100, frames: 1_000, others: 50, characters: 1_024 },
  { framesPerStack: 30, frames: 200, others: 10, characters: 1_024 },
];

/** Cuts a report that is too large as a whole, though each of its parts is within its limit. */
export function fitReport(report: Report): FittedReport {
  const frames = countFrames(report);
  const kept = frames <= reportLimits.frames ? report : withCopiedStacks(report);
  const cut = kept === report ? 0 : cutStacks(kept);
  const remarks = cut === 0 ? [] : [`${cut} frames were cut out of the middle of stacks, for a report has ${reportLimits.frames} at most`];
  const whole = written(kept, remarks);
  if (whole.body.length <= reportLimits.bodyCharacters) return whole;
  const tooLarge = `the report has more than ${reportLimits.bodyCharacters} characters: the middles of its stacks, and the ends of its longest lists and texts, were left out`;
  let fitted = whole;
  for (const step of smaller) {
    const fewer = withFewer(report, step);
    cutStacks(fewer, step);
    fitted = written(fewer, [tooLarge]);
    if (fitted.body.length <= reportLimits.bodyCharacters) break;
  }
  return fitted;
}

function written(report: Report, remarks: readonly string[]): FittedReport {
  const told = withRemarks(report, remarks);
  return { report: told, body: JSON.stringify(told), remarks };
}

/** A report carries what was changed of it, behind what was said before. */
export const withRemarks = <Kept extends Report>(report: Kept, remarks: readonly string[]): Kept =>
  remarks.length === 0
    ? report
    : {
        ...report,
        remarks: [...report.remarks, ...remarks].slice(0, reportLimits.remarks).map((one) => clipText(one, reportLimits.remarkCharacters)),
      };

const countFrames = ({ exceptions, threads }: Report): number =>
  [...exceptions, ...threads].reduce((sum, stack) => sum + stack.frames.length, 0);

/** Stacks are cut in place, so they are copied before. */
const withCopiedStacks = (report: Report): Report => ({
  ...report,
  exceptions: report.exceptions.map((one) => ({ ...one })),
  threads: report.threads.map((one) => ({ ...one })),
});

const withFewer = (report: Report, { others, characters }: (typeof smaller)[number]): Report => ({
  ...report,
  exceptions: report.exceptions.map((one) => ({
    ...one,
    message: one.message && clipText(one.message, characters),
    stack: one.stack && clipText(one.stack, characters),
  })),
  threads: report.threads.slice(0, others).map((one) => ({ ...one })),
  images: report.images.slice(0, others),
  trail: report.trail.slice(-others),
  sections: report.sections.map((one) => ({ ...one, text: clipText(one.text, characters) })),
  attributes: Object.fromEntries(
    Object.entries(report.attributes).map(([name, value]) => [
      name,
      Array.isArray(value) ? value.slice(0, others / 10).map(clipped) : clipped(value),
    ]),
  ),
});

const attributeCharacters = 1_024;
const clipped = <Value>(value: Value): Value | string => (typeof value === 'string' ? clipText(value, attributeCharacters) : value);
