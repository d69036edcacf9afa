import { readCrashFile } from '../formats/crash-file.ts';
import type { FoundReport } from '../formats/found-report.ts';
import type { NativeFrame } from '../frames.ts';

const read = (text: string) => readCrashFile(new TextEncoder().encode(text), { receivedAt: '2026-11-23T00:00:00Z' });

/** The only report of a text, read as a file of any form is. */
export function onlyReport(text: string): FoundReport {
  const result = read(text);
  if (!result.ok) throw new Error(result.problem.message);
  const [report, ...further] = result.value;
  if (!report || further.length > 0) throw new Error(`the text holds ${result.value.length} reports`);
  return report;
}

/** Why a text holds no report; null when it holds some. */
export function problemOf(text: string) {
  const result = read(text);
  return result.ok ? null : result.problem;
}

/** The frames of a report that only has native ones. */
export const nativeFrames = (frames: readonly unknown[] | undefined) => (frames ?? []) as NativeFrame[];
