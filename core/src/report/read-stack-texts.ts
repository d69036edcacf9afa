import { readStacks } from './formats/stacks.ts';
import { printable } from './printable.ts';
import type { Report, ReportedException } from './report.ts';

/**
 * Reads the stacks that a client sent as text. A text that holds causes replaces an only exception by the whole chain; what
 * cannot be read stays as it came.
 */
export function readStackTexts(report: Report): Report {
  if (report.exceptions.every((one) => one.stack === null || one.frames.length > 0)) return report;
  const [only, ...others] = report.exceptions;
  if (only && others.length === 0) {
    const read = readStacks(linesOf(only))[0];
    const [first, ...causes] = read?.exceptions ?? [];
    if (!first || first.frames.length === 0) return report;
    return {
      ...report,
      exceptions: [named(first, only), ...causes],
      threads: report.threads.length > 0 ? report.threads : (read?.threads ?? []),
    };
  }
  return {
    ...report,
    exceptions: report.exceptions.map((one) => {
      const frames = one.stack === null || one.frames.length > 0 ? [] : (readStacks(linesOf(one))[0]?.exceptions[0]?.frames ?? []);
      return frames.length > 0 ? { ...one, frames, stack: null } : one;
    }),
  };
}

const linesOf = (one: ReportedException): string[] => printable(one.stack ?? '').split('\n');

/** The client knows type and message better than a text that only some runtimes begin with them. */
const named = (read: ReportedException, told: ReportedException): ReportedException => ({
  ...read,
  type: told.type,
  message: told.message ?? read.message,
});
