// Writes the samples beside this file with the general protobuf library and tombstone.proto, so that our reader is checked
// against another implementation of the encoding: npx tsx core/samples/tombstone-protobuf/build.ts
import { writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import protobuf from 'protobufjs';

const here = (name: string): string => fileURLToPath(new URL(name, import.meta.url));
const Tombstone = (await protobuf.load(here('tombstone.proto'))).lookupType('Tombstone');

const apk = '/data/app/~~9sV3tQ1nB2kXc7yZ0aLmQw==/com.larkfield.guide-Hd8kP0rT5uWx2yZa4bC6eg==/base.apk!libsound.so';
const frame = (
  relPc: number,
  functionName: string,
  functionOffset: number,
  fileName = apk,
  buildId = '5f1d3c0b9a8e7d6c5b4a39281706f5e4d3c2b1a0',
) => ({
  relPc,
  pc: `${0x73b0bf0000 + relPc}`,
  functionName,
  functionOffset,
  fileName,
  fileMapOffset: fileName === apk ? 0x1c000 : 0,
  buildId,
});
const own = [
  frame(0x1a2b4, 'larkfield::Spectrum::peak(float const*, unsigned long) const', 84),
  frame(0x1b010, 'Java_com_larkfield_guide_Sound_identify', 220),
  frame(0xf5298, '__pthread_start(void*)', 208, '/apex/com.android.runtime/lib64/bionic/libc.so', 'c0ffee0123456789c0ffee0123456789'),
];
const registers = [
  { name: 'x0', u64: 0 },
  { name: 'pc', u64: '494590075572' },
  { name: 'sp', u64: '18374405004694913025' },
];
const whole = {
  arch: 1,
  buildFingerprint: 'Tarn/x2/x2:14/UP1A.231005.007/11223344:user/release-keys',
  revision: '0',
  timestamp: '2026-11-20 10:11:12.123456789+0100',
  pid: 21034,
  tid: 21077,
  uid: 10234,
  commandLine: ['com.larkfield.guide'],
  processUptime: 12,
  signalInfo: { number: 11, name: 'SIGSEGV', code: 1, codeName: 'SEGV_MAPERR', hasFaultAddress: true, faultAddress: 0 },
  causes: [{ humanReadable: 'null pointer dereference' }],
  threads: {
    21034: {
      id: 21034,
      name: 'field.guide',
      registers,
      currentBacktrace: [frame(0xa1c38, '__epoll_pwait', 8, '/apex/com.android.runtime/lib64/bionic/libc.so')],
    },
    21077: { id: 21077, name: 'SoundWorker', registers, currentBacktrace: own },
  },
  memoryMappings: [
    {
      beginAddress: '494589837312',
      endAddress: '494590033920',
      offset: 0x1c000,
      read: true,
      execute: true,
      mappingName: apk,
      buildId: own[0]?.buildId,
      loadBias: 0x1000,
    },
  ],
  logBuffers: [
    {
      name: 'main',
      logs: [{ timestamp: '11-20 10:11:11.900', pid: 21034, tid: 21077, priority: 4, tag: 'Sound', message: 'window 4096' }],
    },
  ],
  pageSize: 4096,
};
const samples: Record<string, object> = {
  'null-pointer': whole,
  abort: {
    ...whole,
    causes: [],
    abortMessage: 'no microphone',
    signalInfo: { number: 6, name: 'SIGABRT', code: -1, codeName: 'SI_QUEUE' },
  },
  'memory-error': {
    ...whole,
    causes: [
      { humanReadable: '[MTE]: Use After Free, 16 bytes into a 64-byte allocation' },
      { humanReadable: '[MTE]: Buffer Overflow, 0 bytes right of a 64-byte allocation' },
    ],
    signalInfo: {
      number: 11,
      name: 'SIGSEGV',
      code: 9,
      codeName: 'SEGV_MTESERR',
      hasFaultAddress: true,
      faultAddress: '792744236548390464',
    },
  },
  'one-thread': {
    ...whole,
    threads: { 21077: { id: 21077, name: 'SoundWorker', currentBacktrace: own, backtraceNote: ['the unwinder stopped early'] } },
    memoryMappings: [],
    logBuffers: [],
  },
  arm32: {
    ...whole,
    arch: 0,
    threads: {
      21077: {
        id: 21077,
        name: 'Thread-2',
        currentBacktrace: [frame(0xb3c4, '', 0, '/data/app/com.larkfield.guide-1/lib/arm/libsound.so', '')],
      },
    },
  },
  'without-threads': { ...whole, threads: {} },
};
for (const [name, value] of Object.entries(samples))
  writeFileSync(here(`${name}.pb`), Tombstone.encode(Tombstone.fromObject(value)).finish());
