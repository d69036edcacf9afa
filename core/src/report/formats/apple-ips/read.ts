import type { NativeFrame } from '../../frames.ts';
import { reportLimits } from '../../limits.ts';
import type { LoadedImage } from '../../report.ts';
import {
  appleSignalName,
  bugTypes,
  explainTermination,
  machExceptionName,
  parseAppleOs,
  parseAppleTime,
  symbolIdOf,
} from '../apple-names.ts';
import { ChainBuilder } from '../chain-builder.ts';
import { type FoundReport, foundDevice, foundReport } from '../found-report.ts';
import { asCount, asHexadecimal, asList, asNumber, asObject, asObjects, asText, type JsonObject, printJson } from '../json-reader.ts';
import { keepSection } from '../sections.ts';

/** Whether a document is the first line of a crash report, which says what the rest is about. */
export const isAppleHead = (head: JsonObject): boolean => head.bug_type !== undefined || head.incident_id !== undefined;

/**
 * Reads an `.ips` file: one JSON line that says what the report is about, then the report itself as a JSON document.
 * Apple documents the fields under "Interpreting the JSON format of a crash report". Addresses of callers are return
 * addresses; only frame 0 of a stack points at the instruction.
 */
export function readAppleIps(head: JsonObject, body: JsonObject): FoundReport | null {
  const bugType = asText(head.bug_type) ?? asText(body.bugType) ?? String(asNumber(head.bug_type) ?? '');
  const known = bugTypes[bugType];
  if (body.largestProcess !== undefined || Array.isArray(body.processes)) return readMemoryKill(head, body);
  if (!known && body.threads === undefined && body.exception === undefined && body.termination === undefined) return null;
  return new CrashDocument(head, body).read(known?.kind ?? 'crash');
}

const noCircumstances = { id: null, state: null, waitsFor: null, registers: {} } as const;

class CrashDocument {
  private readonly chain = new ChainBuilder();
  private readonly images: { image: LoadedImage; base: string | null }[];

  constructor(
    private readonly head: JsonObject,
    private readonly body: JsonObject,
  ) {
    this.images = asObjects(body.usedImages)
      .slice(0, reportLimits.images)
      .map((one) => {
        const base = asHexadecimal(one.base);
        const uuid = asText(one.uuid);
        const image: LoadedImage = {
          name: (asText(one.path) || asText(one.name) || 'unknown image').slice(0, reportLimits.nameCharacters),
          symbolId: uuid === null || /^[0-]*$/.test(uuid) ? null : symbolIdOf(uuid),
          architecture: asText(one.arch)?.slice(0, 50) ?? null,
          loadAddress: base,
          sizeBytes: asCount(one.size),
        };
        return { image, base };
      });
  }

  read(kindOfBugType: FoundReport['kind']): FoundReport {
    const { head, body, chain } = this;
    const termination = this.termination();
    const explained = termination && explainTermination(termination);
    const kind = kindOfBugType === 'crash' && explained?.kind === 'kill' ? 'kill' : kindOfBugType;
    const information = this.applicationInformation();
    const lastException = asObjects(body.lastExceptionBacktrace);
    const threads = asObjects(body.threads);
    const faulting = asCount(body.faultingThread);
    const crashed = threads.findIndex((thread, index) => thread.triggered === true || index === faulting);
    const objectiveC = information.map((text) => uncaughtException(text)).find((found) => found !== null) ?? null;

    const signal = this.signal(kind);
    const thrownSeparately = lastException.length > 0;
    // An exception of the language is why; the signal it ended in, and the thread that aborted, stand beside it.
    const isThrown = thrownSeparately || objectiveC !== null;
    const first = chain.begin(isThrown ? (objectiveC ?? { type: 'NSException', message: information[0] ?? null }) : signal);
    if (thrownSeparately) for (const frame of this.frames(lastException, false)) chain.frame(first, frame);
    else if (crashed >= 0) for (const frame of this.frames(asObjects(threads[crashed]?.frames), true)) chain.frame(first, frame);
    for (const [index, thread] of threads.entries())
      this.thread(thread, index, { isCrashed: index === crashed, isTold: index === crashed && !thrownSeparately });

    const bundle = asObject(body.bundleInfo);
    const incident = asText(body.incident) ?? asText(head.incident_id) ?? asText(head.incident);
    const os = asObject(body.osVersion);
    return foundReport({
      format: 'apple-ips',
      kind,
      id: incident !== null && /^[0-9A-Fa-f]{8}(-[0-9A-Fa-f]{4}){3}-[0-9A-Fa-f]{12}$/.test(incident) ? incident.toLowerCase() : null,
      occurredAt: parseAppleTime(asText(body.captureTime) ?? asText(head.timestamp) ?? ''),
      process: asText(bundle?.CFBundleIdentifier) ?? asText(body.procName) ?? asText(head.app_name),
      version: asText(bundle?.CFBundleShortVersionString) ?? asText(head.app_version),
      build: asText(bundle?.CFBundleVersion) ?? asText(head.build_version),
      os: os
        ? parseAppleOs(`${asText(os.train) ?? 'iOS'}${asText(os.build) ? ` (${asText(os.build)})` : ''}`)
        : parseAppleOs(asText(head.os_version) ?? ''),
      device: appleDevice(asText(body.modelCode) ?? asText(body.product)),
      exceptions: chain.exceptions,
      threads: chain.threads,
      images: this.images.map((one) => one.image),
      attributes: this.attributes(signal, isThrown),
      sections: this.unreadSections(),
      notes: chain.notes,
    });
  }

  /** The signal it ended in, or what the system ended it for, and all that is said of that. */
  private signal(kind: FoundReport['kind']): { type: string; message: string | null } {
    const exception = asObject(this.body.exception);
    const termination = this.termination();
    const information = this.applicationInformation();
    const type = exception
      ? signalName(exception)
      : termination
        ? [termination.namespace, termination.code].filter(Boolean).join(' ')
        : kind;
    const said = [
      asText(exception?.subtype),
      termination && explainTermination(termination)?.meaning,
      information[0],
      kind === 'kill' || information.length === 0 ? termination?.indicator : null,
    ];
    return { type, message: said.filter(Boolean).join('; ') || null };
  }

  /** Adds a thread; the stack that an exception has already is not told twice. */
  private thread(thread: JsonObject, index: number, { isCrashed, isTold }: { isCrashed: boolean; isTold: boolean }): void {
    const circumstances = {
      ...noCircumstances,
      name: asText(thread.name) || asText(thread.queue) || `Thread ${index}`,
      id: asCount(thread.id),
      crashed: isCrashed,
      registers: readRegisters(asObject(thread.threadState)),
    };
    this.chain.thread(circumstances, isTold ? [] : this.frames(asObjects(thread.frames), true));
  }

  private attributes(signal: { type: string; message: string | null }, isThrown: boolean): FoundReport['attributes'] {
    const { body } = this;
    const information = this.applicationInformation();
    return {
      'process.signal': signal.type,
      ...(isThrown && signal.message !== null ? { 'process.end': signal.message.slice(0, reportLimits.attributeCharacters) } : {}),
      ...(information.length > 0 ? { 'apple.applicationInformation': information.slice(0, 20) } : {}),
      ...textAttributes(body, {
        procRole: 'process.role',
        coalitionName: 'apple.coalition',
        vmSummary: null,
        cpuType: 'process.architecture',
      }),
      ...(asNumber(body.uptime) !== null ? { 'device.uptimeSeconds': asNumber(body.uptime) as number } : {}),
      ...(body.wasUnlockedSinceBoot !== undefined ? { 'device.unlockedSinceBoot': Boolean(body.wasUnlockedSinceBoot) } : {}),
    };
  }

  private termination() {
    const termination = asObject(this.body.termination);
    if (!termination) return null;
    const code = asHexadecimal(termination.code);
    const reasons = asList(termination.reasons).flatMap((one) => asText(one) ?? []);
    const indicator = [asText(termination.indicator), ...reasons].filter(Boolean).join('; ');
    return { namespace: asText(termination.namespace) ?? 'termination', code, indicator: indicator || null };
  }

  /** Messages that libraries left before the end, such as "Fatal error: Index out of range". */
  private applicationInformation(): string[] {
    const information = asObject(this.body.asi);
    const perImage = information ? Object.values(information).flatMap((texts) => asList(texts).flatMap((one) => asText(one) ?? [])) : [];
    const reason = asObject(this.body.exceptionReason);
    const composed = asText(reason?.composed_message);
    const named =
      composed === null
        ? []
        : [`*** Terminating app due to uncaught exception '${asText(reason?.name) ?? 'NSException'}', reason: '${composed}'`];
    return [...named, ...perImage].map((one) => one.trim().slice(0, reportLimits.attributeCharacters)).filter((one) => one !== '');
  }

  private *frames(list: readonly JsonObject[], firstIsInstruction: boolean): Generator<NativeFrame> {
    let depth = 0;
    for (const one of list) {
      const pointsAt = depth === 0 && firstIsInstruction ? 'instruction' : 'after-call';
      // Symbols and inline calls that the device could already name come with the frame.
      for (const inline of asObjects(one.inlineFrames ?? one.inline)) yield this.frame({ ...one, ...inline }, pointsAt, true);
      yield this.frame(one, pointsAt, one.inline === true);
      if (one.inline !== true) depth++;
    }
  }

  private frame(one: JsonObject, pointsAt: NativeFrame['pointsAt'], inlined: boolean): NativeFrame {
    const used = this.images[asCount(one.imageIndex) ?? -1];
    const offset = asHexadecimal(one.imageOffset);
    const base = used?.base ?? null;
    const line = asCount(one.sourceLine);
    return {
      runtime: 'native',
      address: offset === null || base === null ? null : hexadecimalSum(base, offset),
      image: used?.image.name ?? null,
      symbolId: used?.image.symbolId ?? null,
      imageOffset: offset,
      imageAddress: null,
      fileOffset: null,
      pointsAt,
      function: asText(one.symbol),
      functionOffset: asCount(one.symbolLocation),
      file: asText(one.sourceFile),
      line: line !== null && line <= 0x7fff_ffff ? line : null,
      inlined,
    };
  }

  /** What is not taken up above is kept as it was written. */
  private unreadSections() {
    const taken = new Set(
      'usedImages threads exception termination asi lastExceptionBacktrace captureTime incident bundleInfo osVersion modelCode product faultingThread procRole coalitionName cpuType uptime wasUnlockedSinceBoot bug_type'.split(
        ' ',
      ),
    );
    const rest = Object.fromEntries(Object.entries(this.body).filter(([field]) => !taken.has(field)));
    return Object.keys(rest).length > 0 ? [keepSection('Further fields of the report', printJson(rest))] : [];
  }
}

function signalName(exception: JsonObject): string {
  const raw =
    asText(exception.type) ??
    (asNumber(exception.type) === null ? 'unknown exception' : machExceptionName(asNumber(exception.type) as number));
  const signal =
    asText(exception.signal) ?? (asNumber(exception.signal) === null ? null : appleSignalName(asNumber(exception.signal) as number));
  return signal === null ? raw : `${raw} (${signal})`;
}

/** "*** Terminating app due to uncaught exception 'NSRangeException', reason: '…'" */
export function uncaughtException(text: string): { type: string; message: string | null } | null {
  const match = /uncaught exception '([^']{1,200})'(?:, reason: '([\s\S]*?)')?(?:\s*$|\s*\n|terminating)/.exec(text.slice(0, 20_000));
  return match ? { type: match[1] as string, message: match[2] ?? null } : null;
}

export function hexadecimalSum(base: string, offset: string): string | null {
  const sum = BigInt(base) + BigInt(offset);
  return sum < 1n << 64n ? `0x${sum.toString(16)}` : null;
}

export const appleDevice = (model: string | null): FoundReport['device'] =>
  model === null ? null : foundDevice({ manufacturer: 'Apple', model: model.slice(0, 100) });

/** `x: [{value}, …]` and single registers `{value}`, each under its name. */
function readRegisters(state: JsonObject | null): Record<string, string> {
  const registers: Record<string, string> = {};
  const keep = (name: string, value: string | null) => {
    if (value !== null && name.length <= 20 && Object.keys(registers).length < reportLimits.registers) registers[name] = value;
  };
  for (const [name, entry] of Object.entries(state ?? {})) {
    if (Array.isArray(entry)) for (const [index, one] of asObjects(entry).entries()) keep(`${name}${index}`, asHexadecimal(one.value));
    else keep(name, asHexadecimal(asObject(entry)?.value));
  }
  return registers;
}

function textAttributes(body: JsonObject, names: Readonly<Record<string, string | null>>): Record<string, string> {
  return Object.fromEntries(
    Object.entries(names).flatMap(([field, attribute]) => {
      const text = asText(body[field]);
      return text === null || attribute === null || text === '' ? [] : [[attribute, text.slice(0, reportLimits.attributeCharacters)]];
    }),
  );
}

/**
 * A memory-kill event lists every process with its pages at the moment when the system ran short; those with a `reason`
 * were ended. The first of those becomes the report; a file that names none tells of the largest.
 */
function readMemoryKill(head: JsonObject, body: JsonObject): FoundReport | null {
  const processes = asObjects(body.processes);
  const largest = asText(body.largestProcess);
  const killed = processes.find((one) => asText(one.reason) !== null) ?? processes.find((one) => asText(one.name) === largest) ?? null;
  const name = asText(killed?.name) ?? largest;
  if (name === null) return null;
  const pageBytes = asCount(asObject(body.memoryStatus)?.pageSize) ?? 16_384;
  const pages = asCount(killed?.rpages);
  const peak = asCount(killed?.lifetimeMax);
  const reason = asText(killed?.reason);
  const states = asList(killed?.states).flatMap((one) => asText(one) ?? []);
  const incident = asText(body.incident) ?? asText(head.incident_id);
  const chain = new ChainBuilder();
  chain.begin({
    type: `memory kill${reason === null ? '' : ` (${reason})`}`,
    message: pages === null ? null : `${name} held ${Math.round((pages * pageBytes) / 1_048_576)} MB`,
  });
  return foundReport({
    format: 'apple-ips',
    kind: 'kill',
    id: incident !== null && /^[0-9A-Fa-f]{8}(-[0-9A-Fa-f]{4}){3}-[0-9A-Fa-f]{12}$/.test(incident) ? incident.toLowerCase() : null,
    occurredAt: parseAppleTime(asText(body.date) ?? asText(head.timestamp) ?? ''),
    process: name,
    os: parseAppleOs(asText(body.build) ?? asText(head.os_version) ?? ''),
    device: appleDevice(asText(body.product)),
    exceptions: chain.exceptions,
    attributes: {
      ...(pages === null ? {} : { 'process.memoryBytes': pages * pageBytes }),
      ...(peak === null ? {} : { 'process.peakMemoryBytes': peak * pageBytes }),
      ...(states.length > 0 ? { 'process.states': states.slice(0, 20) } : {}),
      ...(reason === null ? {} : { 'kill.reason': reason }),
    },
    sections: [keepSection('Memory of all processes', printJson(body))],
    notes: chain.notes,
  });
}
