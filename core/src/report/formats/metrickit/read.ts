import type { NativeFrame } from '../../frames.ts';
import { reportLimits } from '../../limits.ts';
import type { LoadedImage } from '../../report.ts';
import type { ReportKind } from '../../report-kinds.ts';
import { appleDevice } from '../apple-ips/read.ts';
import { appleSignalName, explainTermination, machExceptionName, parseAppleOs, parseAppleTime, symbolIdOf } from '../apple-names.ts';
import { ChainBuilder } from '../chain-builder.ts';
import { type FoundReport, foundReport } from '../found-report.ts';
import { asHexadecimal, asNumber, asObject, asObjects, asText, type JsonObject, printJson } from '../json-reader.ts';
import { keepSection } from '../sections.ts';

const lists = { crashDiagnostics: 'crash', hangDiagnostics: 'hang' } as const satisfies Record<string, ReportKind>;
/** Diagnostics that tell of use, not of an end: they become no report. */
const otherLists = ['cpuExceptionDiagnostics', 'diskWriteExceptionDiagnostics', 'appLaunchDiagnostics'];

/** Whether a JSON document is a MetricKit payload, or one diagnostic of it. */
export const isMetricKit = (document: JsonObject): boolean =>
  [...Object.keys(lists), ...otherLists].some((name) => Array.isArray(document[name])) || document.callStackTree !== undefined;

/** Reads `MXDiagnosticPayload.jsonRepresentation()`: crashes and hangs, each with its tree of call stacks. */
export function readMetricKit(document: JsonObject): FoundReport[] {
  const at = parseAppleTime(asText(document.timeStampEnd) ?? asText(document.timeStampBegin) ?? '');
  const found = Object.entries(lists).flatMap(([name, kind]) => asObjects(document[name]).map((one) => readDiagnostic(one, kind, at)));
  if (found.length === 0 && document.callStackTree !== undefined) {
    const about = asObject(document.diagnosticMetaData);
    found.push(readDiagnostic(document, about?.hangDuration === undefined ? 'crash' : 'hang', at));
  }
  return found.slice(0, 200);
}

function readDiagnostic(diagnostic: JsonObject, kindOfList: ReportKind, at: string | null): FoundReport {
  const about = asObject(diagnostic.diagnosticMetaData) ?? {};
  const chain = new ChainBuilder();
  const images = new Map<string, LoadedImage>();
  const reason = asText(about.terminationReason);
  const code = /0x([0-9a-f]+)/i.exec(reason ?? '')?.[0] ?? null;
  const namespace = /Namespace ([A-Z_]+)/.exec(reason ?? '')?.[1] ?? null;
  const explained = namespace === null ? null : explainTermination({ namespace, code, indicator: reason });
  const thrown = asObject(about.objectiveCexceptionReason);
  const hang = asText(about.hangDuration);
  const type = kindOfList === 'hang' ? 'hang' : signalOf(about);
  const message = [hang && `not responding for ${hang}`, explained?.meaning, reason, asText(about.virtualMemoryRegionInfo)]
    .filter(Boolean)
    .join('; ');
  // There is one stack: that of the exception when one was thrown, with the signal it ended in beside it.
  const exception = thrown && {
    type: asText(thrown.exceptionName) ?? asText(thrown.className) ?? 'NSException',
    message: asText(thrown.composedMessage),
  };
  const first = chain.begin(exception ?? { type, message: message || null });
  const stacks = asObjects(asObject(diagnostic.callStackTree)?.callStacks);
  const read = stacks.map((stack) => readTree(stack, images, chain));
  // A hang is one of the main thread, whatever else ran meanwhile.
  const main = kindOfList === 'hang' ? read.findIndex((frames) => isOfLoader(frames.at(-1))) : -1;
  const attributed = stacks.findIndex((stack) => stack.threadAttributed === true);
  const blamed = Math.max(0, main >= 0 ? main : attributed);
  read.forEach((frames, index) => {
    if (index === blamed) for (const frame of frames) chain.frame(first, frame);
    const circumstances = { id: null, state: null, waitsFor: null, registers: {} };
    chain.thread({ name: `Thread ${index}`, crashed: index === blamed, ...circumstances }, index === blamed ? [] : frames);
  });
  return foundReport({
    format: 'metrickit',
    kind: kindOfList === 'crash' && explained?.kind === 'kill' ? 'kill' : kindOfList,
    occurredAt: at,
    process: asText(about.bundleIdentifier),
    version: asText(about.appVersion),
    build: asText(about.appBuildVersion),
    os: parseAppleOs(asText(about.osVersion) ?? ''),
    device: appleDevice(asText(about.deviceType)),
    exceptions: chain.exceptions,
    threads: chain.threads,
    images: [...images.values()].slice(0, reportLimits.images),
    attributes: {
      'process.signal': type,
      ...(asText(about.platformArchitecture) ? { 'process.architecture': asText(about.platformArchitecture) as string } : {}),
      ...(about.isTestFlightApp === undefined ? {} : { 'app.testInstallation': Boolean(about.isTestFlightApp) }),
      ...(about.lowPowerModeEnabled === undefined ? {} : { 'device.lowPowerMode': Boolean(about.lowPowerModeEnabled) }),
    },
    sections: [keepSection('Diagnostic metadata', printJson(about))],
    notes: chain.notes,
  });
}

/** "EXC_BAD_ACCESS (SIGSEGV)", as far as the system tells it. */
function signalOf(about: JsonObject): string {
  const mach = asNumber(about.exceptionType);
  const signal = asNumber(about.signal);
  if (mach === null) return signal === null ? 'crash' : appleSignalName(signal);
  return `${machExceptionName(mach)}${signal === null ? '' : ` (${appleSignalName(signal)})`}`;
}

/**
 * The tree of one stack as a line: where samples fork, the branch with the most samples is followed. Which end is the
 * innermost is not documented and differs between kinds; a stack begins at `start` of dyld or of a thread, so the end
 * that lies in one of those is the outermost.
 */
function readTree(stack: JsonObject, images: Map<string, LoadedImage>, chain: ChainBuilder): NativeFrame[] {
  const frames: NativeFrame[] = [];
  let level = asObjects(stack.callStackRootFrames);
  let forks = 0;
  while (level.length > 0 && frames.length < reportLimits.framesPerStack) {
    if (level.length > 1) forks++;
    const heaviest = level.reduce((best, one) => ((asNumber(one.sampleCount) ?? 0) > (asNumber(best.sampleCount) ?? 0) ? one : best));
    frames.push(readFrame(heaviest, images));
    level = asObjects(heaviest.subFrames);
  }
  if (forks > 0) chain.note('of forking call stacks the branch with the most samples is shown; the file itself holds all');
  const beginsOutermost = isThreadStart(frames[0]) && !isThreadStart(frames.at(-1));
  if (beginsOutermost) frames.reverse();
  return frames.map((frame, depth) => (depth === 0 ? { ...frame, pointsAt: 'instruction' } : frame));
}

/** The main thread begins in the loader of programs, others where threads are made. */
const isOfLoader = (frame: NativeFrame | undefined): boolean => /(?:^|\/)(?:dyld|libdyld\.dylib)$/.test(frame?.image ?? '');

const isThreadStart = (frame: NativeFrame | undefined): boolean =>
  /(?:^|\/)(?:dyld|libdyld\.dylib|libsystem_pthread\.dylib)$/.test(frame?.image ?? '');

function readFrame(one: JsonObject, images: Map<string, LoadedImage>): NativeFrame {
  const uuid = asText(one.binaryUUID);
  const symbolId = uuid === null ? null : symbolIdOf(uuid);
  const image = asText(one.binaryName)?.slice(0, reportLimits.nameCharacters) ?? null;
  const offset = asHexadecimal(one.offsetIntoBinaryTextSegment);
  const address = asHexadecimal(one.address);
  if (symbolId !== null && !images.has(symbolId) && images.size < reportLimits.images) {
    const base = address === null || offset === null ? null : BigInt(address) - BigInt(offset);
    images.set(symbolId, {
      name: image ?? 'unknown image',
      symbolId,
      architecture: null,
      loadAddress: base === null || base < 0n ? null : `0x${base.toString(16)}`,
      sizeBytes: null,
    });
  }
  return {
    runtime: 'native',
    address,
    image,
    symbolId,
    imageOffset: offset,
    imageAddress: null,
    fileOffset: null,
    pointsAt: 'after-call',
    function: null,
    functionOffset: null,
    file: null,
    line: null,
    inlined: false,
  };
}
