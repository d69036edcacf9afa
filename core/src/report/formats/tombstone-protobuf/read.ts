import {
  bigintOf,
  decodeMessage,
  type Message,
  type MessageShape,
  messageOf,
  messagesOf,
  ProtobufProblem,
  textOf,
  textsOf,
} from '../../../bytes/protobuf.ts';
import type { NativeFrame } from '../../frames.ts';
import { reportLimits } from '../../limits.ts';
import { parseAndroidTime, readFingerprint } from '../android-names.ts';
import { ChainBuilder } from '../chain-builder.ts';
import { type FoundReport, foundReport } from '../found-report.ts';
import { keepSection } from '../sections.ts';
import { nativeFrame } from '../tombstone-frame.ts';
import { imagesOfFrames, nativeSignal } from '../tombstone-text/read.ts';

// Shapes after AOSP, system/core/debuggerd/proto/tombstone.proto; what is only of use to the platform's own tools is left out.
const frameShape: MessageShape = {
  1: { name: 'relativePc', type: 'unsigned' },
  2: { name: 'pc', type: 'unsigned' },
  4: { name: 'functionName', type: 'text' },
  5: { name: 'functionOffset', type: 'unsigned' },
  6: { name: 'fileName', type: 'text' },
  7: { name: 'fileMapOffset', type: 'unsigned' },
  8: { name: 'buildId', type: 'text' },
};
const threadShape: MessageShape = {
  1: { name: 'id', type: 'signed' },
  2: { name: 'name', type: 'text' },
  3: { name: 'registers', repeated: true, type: { 1: { name: 'name', type: 'text' }, 2: { name: 'value', type: 'unsigned' } } },
  4: { name: 'backtrace', repeated: true, type: frameShape },
  7: { name: 'notes', repeated: true, type: 'text' },
  9: { name: 'unreadable', repeated: true, type: 'text' },
};
const mappingShape: MessageShape = {
  1: { name: 'begin', type: 'unsigned' },
  2: { name: 'end', type: 'unsigned' },
  3: { name: 'offset', type: 'unsigned' },
  4: { name: 'read', type: 'boolean' },
  5: { name: 'write', type: 'boolean' },
  6: { name: 'execute', type: 'boolean' },
  7: { name: 'name', type: 'text' },
  8: { name: 'buildId', type: 'text' },
  9: { name: 'loadBias', type: 'unsigned' },
};
const logShape: MessageShape = {
  1: { name: 'name', type: 'text' },
  2: {
    name: 'lines',
    repeated: true,
    type: {
      1: { name: 'time', type: 'text' },
      2: { name: 'pid', type: 'unsigned' },
      3: { name: 'tid', type: 'unsigned' },
      4: { name: 'priority', type: 'unsigned' },
      5: { name: 'tag', type: 'text' },
      6: { name: 'message', type: 'text' },
    },
  },
};
const tombstoneShape: MessageShape = {
  1: { name: 'architecture', type: 'unsigned' },
  2: { name: 'fingerprint', type: 'text' },
  4: { name: 'timestamp', type: 'text' },
  5: { name: 'pid', type: 'unsigned' },
  6: { name: 'tid', type: 'unsigned' },
  9: { name: 'commandLine', repeated: true, type: 'text' },
  10: {
    name: 'signal',
    type: {
      1: { name: 'number', type: 'signed' },
      2: { name: 'name', type: 'text' },
      3: { name: 'code', type: 'signed' },
      4: { name: 'codeName', type: 'text' },
      8: { name: 'hasAddress', type: 'boolean' },
      9: { name: 'address', type: 'unsigned' },
    },
  },
  14: { name: 'abortMessage', type: 'text' },
  15: { name: 'causes', repeated: true, type: { 1: { name: 'text', type: 'text' } } },
  16: { name: 'threads', repeated: true, type: { 1: { name: 'key', type: 'unsigned' }, 2: { name: 'thread', type: threadShape } } },
  17: { name: 'mappings', repeated: true, type: mappingShape },
  18: { name: 'logs', repeated: true, type: logShape },
  20: { name: 'uptimeSeconds', type: 'unsigned' },
  22: { name: 'pageSize', type: 'unsigned' },
};

const architectures = ['arm', 'arm64', 'x86', 'x86_64', 'riscv64'];

/** Whether bytes begin like the message: its first field is the architecture or the fingerprint. */
export function isTombstoneProtobuf(bytes: Uint8Array): boolean {
  const start = bytes[0] === 0x08 && (bytes[1] ?? 9) <= 5 ? 2 : 0;
  return bytes[start] === 0x12 || (start === 2 && (bytes[2] === 0x1a || bytes[2] === 0x22));
}

/** Reads the message that `ApplicationExitInfo.getTraceInputStream` gives after a native crash; null when it is none. */
export function readTombstoneProtobuf(bytes: Uint8Array): FoundReport | null {
  try {
    const tombstone = decodeMessage(bytes, tombstoneShape);
    const threads = messagesOf(tombstone.threads)
      .map((entry) => messageOf(entry.thread))
      .filter((thread) => thread !== null);
    const signal = messageOf(tombstone.signal);
    return threads.length === 0 && !signal ? null : toReport(tombstone, signal, threads);
  } catch (error) {
    if (error instanceof ProtobufProblem) return null;
    throw error;
  }
}

function toReport(tombstone: Message, signal: Message | null, threads: readonly Message[]): FoundReport {
  const chain = new ChainBuilder();
  const tid = bigintOf(tombstone.tid);
  const first = chain.begin(
    nativeSignal({
      name: textOf(signal?.name) ?? (signal ? `signal ${bigintOf(signal.number)}` : 'crash'),
      code: textOf(signal?.codeName) ?? '',
      address: signal?.hasAddress === true ? hexadecimal(bigintOf(signal.address)) : null,
      abort: textOf(tombstone.abortMessage),
      causes: messagesOf(tombstone.causes).flatMap((cause) => textOf(cause.text) ?? []),
    }),
  );
  const crashedFirst = [...threads].sort((a, b) => Number(bigintOf(b.id) === tid) - Number(bigintOf(a.id) === tid));
  const stacks = crashedFirst.map((thread) => messagesOf(thread.backtrace).map(readFrame));
  for (const frame of stacks[0] ?? []) chain.frame(first, frame);
  crashedFirst.forEach((thread, index) => {
    const name = textOf(thread.name) ?? `Thread ${bigintOf(thread.id)}`;
    const about = {
      name,
      id: smallNumber(bigintOf(thread.id)),
      crashed: index === 0,
      state: null,
      waitsFor: null,
      registers: readRegisters(thread),
    };
    chain.thread(about, index === 0 ? [] : (stacks[index] ?? []));
    for (const note of textsOf(thread.notes)) chain.note(note.slice(0, 300));
  });
  const fingerprint = textOf(tombstone.fingerprint) ?? '';
  const command = textsOf(tombstone.commandLine);
  return foundReport({
    format: 'tombstone-protobuf',
    kind: 'crash',
    occurredAt: parseAndroidTime(textOf(tombstone.timestamp) ?? ''),
    process: command[0]?.slice(0, reportLimits.nameCharacters) ?? null,
    ...readFingerprint(fingerprint),
    exceptions: chain.exceptions,
    threads: chain.threads,
    images: imagesOfFrames(stacks.flat()),
    attributes: {
      'process.architecture': architectures[Number(bigintOf(tombstone.architecture))] ?? 'unknown',
      ...(tombstone.uptimeSeconds === undefined ? {} : { 'process.uptime': `${bigintOf(tombstone.uptimeSeconds)}s` }),
      ...(fingerprint === '' ? {} : { 'device.fingerprint': fingerprint.slice(0, reportLimits.attributeCharacters) }),
    },
    sections: [...memoryMap(tombstone), ...logs(tombstone)].slice(0, reportLimits.sections),
    notes: chain.notes,
  });
}

const hexadecimal = (value: bigint): string => `0x${BigInt.asUintN(64, value).toString(16)}`;
const smallNumber = (value: bigint): number | null => (value >= -(2n ** 53n) && value <= 2n ** 53n - 1n ? Number(value) : null);

function readFrame(frame: Message): NativeFrame {
  const fileOffset = bigintOf(frame.fileMapOffset);
  return nativeFrame({
    address: hexadecimal(bigintOf(frame.pc)),
    imageAddress: hexadecimal(bigintOf(frame.relativePc)),
    image: textOf(frame.fileName),
    fileOffset: fileOffset > 0n ? hexadecimal(fileOffset) : null,
    symbolId: textOf(frame.buildId)?.toLowerCase().slice(0, 200) ?? null,
    function: textOf(frame.functionName),
    functionOffset: textOf(frame.functionName) === null ? null : smallNumber(bigintOf(frame.functionOffset)),
  });
}

function readRegisters(thread: Message): Record<string, string> {
  const all = messagesOf(thread.registers).slice(0, reportLimits.registers);
  return Object.fromEntries(
    all.flatMap((one) => {
      const name = textOf(one.name);
      return name === null || name.length > 20 ? [] : [[name, hexadecimal(bigintOf(one.value))]];
    }),
  );
}

function memoryMap(tombstone: Message) {
  const mappings = messagesOf(tombstone.mappings);
  if (mappings.length === 0) return [];
  const lines = mappings.map((one) => {
    const rights = `${one.read === true ? 'r' : '-'}${one.write === true ? 'w' : '-'}${one.execute === true ? 'x' : '-'}`;
    const buildId = textOf(one.buildId);
    const range = [one.begin, one.end].map((value) => BigInt.asUintN(64, bigintOf(value)).toString(16).padStart(16, '0')).join('-');
    return [range, rights, hexadecimal(bigintOf(one.offset)), textOf(one.name), buildId && `(BuildId: ${buildId})`]
      .filter(Boolean)
      .join(' ');
  });
  return [keepSection(`memory map (${mappings.length} entries)`, lines.join('\n'))];
}

function logs(tombstone: Message) {
  return messagesOf(tombstone.logs).map((log) =>
    keepSection(
      `log ${textOf(log.name) ?? ''}`.trim(),
      messagesOf(log.lines)
        .map(
          (line) =>
            `${textOf(line.time) ?? ''} ${bigintOf(line.pid)} ${bigintOf(line.tid)} ${textOf(line.tag) ?? ''}: ${textOf(line.message) ?? ''}`,
        )
        .join('\n'),
    ),
  );
}
