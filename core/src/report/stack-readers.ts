import { readDartStacks } from './dart-stack.ts';
import { readDotnetStacks } from './dotnet-stack.ts';
import { unfoldEmbeddedStacks } from './embedded-stacks.ts';
import type { FoundReport } from './found-report.ts';
import { readJavascriptStacks } from './javascript-stack.ts';
import { readJvmStacks } from './jvm-stack.ts';
import { writtenLine } from './written-line.ts';

const carried = [readJavascriptStacks, readDartStacks, readDotnetStacks];
const readers = [readJvmStacks, ...carried];

const framesOf = (reports: readonly FoundReport[]): number =>
  reports.reduce((sum, report) => sum + report.exceptions.reduce((frames, one) => frames + one.frames.length, 0), 0);

/** Of several readings of one text the one that understood the most frames; the first of equals. */
const fullest = (readings: readonly FoundReport[][]): FoundReport[] =>
  readings.reduce((best, one) => (framesOf(one) > framesOf(best) || (best.length === 0 && one.length > 0) ? one : best), []);

/** Reads a stack text of whichever managed runtime understands most of it. */
export function readStacks(lines: readonly string[]): FoundReport[] {
  return fullest(readers.map((read) => (read === readJvmStacks ? read(lines).filter(namesFiles) : read(lines)).map(unfold)));
}

/**
 * Whether a report of the JVM says of any frame where it is, if only that this is not known. "A.B()" with nothing between the
 * parentheses is how .NET writes a method without parameters.
 */
const namesFiles = ({ exceptions }: FoundReport): boolean => {
  const lines = exceptions.flatMap(({ frames }) => frames.map((frame) => writtenLine(frame) ?? ''));
  return lines.length === 0 || lines.some((line) => !line.includes('()'));
};

/** Reads the stacks of other runtimes out of an exception's message. */
export const unfold = (report: FoundReport): FoundReport =>
  unfoldEmbeddedStacks(report, (lines) => fullest(carried.map((read) => read(lines))));
