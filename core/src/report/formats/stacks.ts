import type { StackFormat } from './crash-format.ts';
import { dartStack } from './dart-stack/format.ts';
import { dotnetStack } from './dotnet-stack/format.ts';
import { unfoldEmbeddedStacks } from './embedded-stacks.ts';
import type { FoundReport } from './found-report.ts';
import { javascriptStack } from './javascript-stack/format.ts';
import { jvmStack } from './jvm-stack/format.ts';

/** The stacks of managed runtimes; of two that understand as much of a text, the first is taken. */
export const stackFormats = [jvmStack, javascriptStack, dartStack, dotnetStack] as const satisfies readonly StackFormat[];

const framesOf = (reports: readonly FoundReport[]): number =>
  reports.reduce((sum, report) => sum + report.exceptions.reduce((frames, one) => frames + one.frames.length, 0), 0);

/** Of several readings of one text the one that understood the most frames; the first of equals. */
const fullest = (readings: readonly FoundReport[][]): FoundReport[] =>
  readings.reduce((best, one) => (framesOf(one) > framesOf(best) || (best.length === 0 && one.length > 0) ? one : best), []);

/** Reads a stack text of whichever managed runtime understands most of it. */
export const readStacks = (lines: readonly string[]): FoundReport[] =>
  fullest(stackFormats.map((format) => format.readStacks(lines).map(unfold)));

/** Reads the stacks of other runtimes out of an exception's message. */
export const unfold = (report: FoundReport): FoundReport =>
  unfoldEmbeddedStacks(report, (lines) =>
    fullest(stackFormats.filter(({ isCarried }) => isCarried).map((format) => format.readStacks(lines))),
  );
