import { reportLimits } from '../limits.ts';
import { cutStacks } from '../mend/cut-stacks.ts';
import type { ReportedException } from '../report.ts';
import type { FoundReport } from './found-report.ts';

/**
 * Hosts of cross-platform apps pass an error on as text: its whole stack ends up inside the message of a Java exception, or
 * of an Objective-C one. The text is read here, and its exceptions become causes of the one that carried it, so that both
 * runtimes' stacks are one chain.
 */
export function unfoldEmbeddedStacks(report: FoundReport, readStacks: (lines: readonly string[]) => FoundReport[]): FoundReport {
  for (const [index, carrier] of report.exceptions.entries()) {
    const lines = (carrier.message ?? '').split('\n');
    if (lines.length < 2) continue;
    const embedded = readStacks(lines)[0];
    // An error of the same runtime prints its own causes; in its message a stack is nothing but text.
    const runtime = embedded?.exceptions.find((one) => one.frames.length > 0)?.frames[0]?.runtime;
    if (!embedded || runtime === undefined || runtime === carrier.frames[0]?.runtime) continue;
    const offset = report.exceptions.length;
    const room = Math.min(reportLimits.exceptions - offset, embedded.exceptions.length);
    const causes = embedded.exceptions.slice(0, room).map(
      (one, position): ReportedException => ({
        ...one,
        relation: position === 0 ? 'cause' : one.relation,
        parent: position === 0 ? index : (one.parent as number) + offset,
      }),
    );
    const exceptions = [...report.exceptions, ...causes];
    exceptions[index] = { ...carrier, message: (lines[0] as string).replace(/,? stack:\s*$/, '') };
    const whole = { ...report, exceptions, threads: [...report.threads, ...embedded.threads].slice(0, reportLimits.threads) };
    cutStacks(whole);
    return whole;
  }
  return report;
}
