import { failure, type Result, success } from '../result.ts';
import { isAnrTrace, readAnrTraces } from './anr-trace.ts';
import { isAppleCrashText, readAppleCrashText } from './apple-crash-text.ts';
import { readAppleIps } from './apple-ips.ts';
import { isExitInfo, readExitInfo } from './exit-info.ts';
import type { CrashFileContext, FoundReport } from './found-report.ts';
import { asObject, asObjects, parseJson } from './json-reader.ts';
import { isLogcat, readLogcat, readLogcatFile } from './logcat.ts';
import { isMetricKit, readMetricKit } from './metrickit.ts';
import { printable } from './printable.ts';
import { readStacks, unfold } from './stack-readers.ts';
import { isTombstoneProtobuf, readTombstoneProtobuf } from './tombstone-protobuf.ts';
import { isTombstone, readTombstoneText } from './tombstone-text.ts';

export type CrashFileProblem = 'empty' | 'not-text' | 'too-large' | 'no-crash' | 'damaged';

/** The largest file the readers take, in bytes. */
export const crashFileLimitBytes = 8 * 1024 * 1024;

/** Of one file so many reports are read. */
const reportsPerFile = 200;

const known =
  'Apple crash reports (.ips, older text, MetricKit payloads, memory-kill events), Android tombstones (text and protobuf), ANR traces, exit information and logcat, and the stack traces of the JVM, JavaScript, Dart and .NET';

/**
 * Reads a crash file of any known format and says which it was. Several reports in one file come back in the order in
 * which they stand there.
 */
export function readCrashFile(bytes: Uint8Array, context: CrashFileContext): Result<FoundReport[], CrashFileProblem> {
  if (bytes.length === 0) return failure('empty', 'the file is empty');
  if (bytes.length > crashFileLimitBytes)
    return failure('too-large', `the file has ${bytes.length} bytes; the limit is ${crashFileLimitBytes}`);
  const binary = bytes.subarray(0, 4096).includes(0) || isTombstoneProtobuf(bytes);
  if (binary) {
    const tombstone = isTombstoneProtobuf(bytes) ? readTombstoneProtobuf(bytes) : null;
    if (tombstone) return success([unfold(tombstone)]);
    if (bytes.subarray(0, 4096).includes(0)) return failure('not-text', `the file holds binary data of no known form; known are ${known}`);
  }
  const text = new TextDecoder('utf-8').decode(bytes);
  if (/^\s*[{[]/.test(text)) {
    const read = readJson(text, context);
    if (!read.ok || read.value.length > 0) return read;
  }
  const lines = printable(text).split('\n');
  const found = readText(lines, context);
  return found.length > 0 ? success(found) : failure('no-crash', `no crash was found in this text; known are ${known}`);
}

/** One JSON document, or two: a line that says what the report is about, then the report. */
function readJson(text: string, context: CrashFileContext): Result<FoundReport[], CrashFileProblem> {
  const document = parseJson(text);
  // Payloads that an app has collected come as a list.
  if (Array.isArray(document)) {
    const payloads = asObjects(document).filter(isMetricKit).slice(0, reportsPerFile);
    return success(payloads.flatMap(readMetricKit).slice(0, reportsPerFile).map(unfold));
  }
  const whole = asObject(document);
  if (whole) {
    if (isMetricKit(whole)) return success(readMetricKit(whole).map(unfold));
    const logged = readLogcatFile(whole, context);
    if (logged) return success(logged.map(unfold));
    const report = readAppleIps({}, whole);
    return success(report ? [unfold(report)] : []);
  }
  const lineEnd = text.indexOf('\n', text.search(/\S/));
  const head = lineEnd < 0 ? null : asObject(parseJson(text.slice(0, lineEnd)));
  if (!head || (head.bug_type === undefined && head.incident_id === undefined)) return success([]);
  const rest = text.slice(lineEnd + 1);
  const body = asObject(parseJson(rest));
  if (body) {
    const report = readAppleIps(head, body);
    return success(report ? [unfold(report)] : []);
  }
  const lines = printable(rest).split('\n');
  // Older systems put the text form behind the same first line.
  if (isAppleCrashText(lines)) return success([unfold(readAppleCrashText(lines))]);
  return failure('damaged', 'the file begins like an Apple crash report, but the JSON document after its first line cannot be read', 2);
}

function readText(lines: readonly string[], context: CrashFileContext): FoundReport[] {
  if (isAppleCrashText(lines)) return [unfold(readAppleCrashText(lines))];
  if (isLogcat(lines)) return readLogcat(lines, context).map(unfold);
  if (isTombstone(lines)) return [unfold(readTombstoneText(lines))];
  if (isAnrTrace(lines)) return readAnrTraces(lines);
  if (isExitInfo(lines)) return readExitInfo(lines);
  return readStacks(lines);
}
