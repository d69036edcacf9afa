import { describe, expect, it } from 'vitest';
import { nativeFrames, onlyReport, problemOf } from '../../testing/read-text.ts';
import { readCrashFile } from '../crash-file.ts';
import type { JsonObject } from '../json-reader.ts';

describe('a MetricKit payload', () => {
  const stack = (...offsets: number[]): JsonObject =>
    offsets.reduceRight<JsonObject>(
      (inner, offset) => ({ binaryName: 'Guide', offsetIntoBinaryTextSegment: offset, address: 4096 + offset, subFrames: [inner] }),
      {
        binaryName: 'dyld',
      },
    );
  const diagnostic = (meta: JsonObject, ...callStacks: JsonObject[]) => ({ diagnosticMetaData: meta, callStackTree: { callStacks } });
  const crash = (meta: JsonObject, ...callStacks: JsonObject[]) =>
    onlyReport(JSON.stringify({ crashDiagnostics: [diagnostic(meta, ...callStacks)] }));

  it.each<[what: string, meta: JsonObject, type: string, message: string | null, kind: string]>([
    ['numbers of the kernel', { exceptionType: 1, signal: 11 }, 'EXC_BAD_ACCESS (SIGSEGV)', null, 'crash'],
    ['an exception alone', { exceptionType: 6 }, 'EXC_BREAKPOINT', null, 'crash'],
    ['a signal alone', { signal: 9 }, 'SIGKILL', null, 'crash'],
    ['nothing', {}, 'crash', null, 'crash'],
    ['a reason of no kind', { signal: 6, terminationReason: 'it was time' }, 'SIGABRT', 'it was time', 'crash'],
    [
      'a lock held while suspended',
      { signal: 9, terminationReason: 'Namespace RUNNINGBOARD, Code 0xdead10cc', virtualMemoryRegionInfo: '0 is not in any region' },
      'SIGKILL',
      'it held a file lock or a database while it was suspended; Namespace RUNNINGBOARD, Code 0xdead10cc; 0 is not in any region',
      'kill',
    ],
    [
      'an exception of the language',
      { signal: 6, objectiveCexceptionReason: { exceptionName: 'NSRangeException', composedMessage: 'too far' } },
      'NSRangeException',
      'too far',
      'crash',
    ],
    ['one known by its class', { objectiveCexceptionReason: { className: 'LKNestError' } }, 'LKNestError', null, 'crash'],
    ['one without a name', { objectiveCexceptionReason: {} }, 'NSException', null, 'crash'],
  ])('with %s', (_, meta, type, message, kind) => {
    const report = crash(meta);
    expect(report.kind).toBe(kind);
    expect(report.exceptions[0]).toMatchObject({ type, message });
  });

  it('tells what it knows of app, system and device', () => {
    const meta = {
      bundleIdentifier: 'example.larkfield.guide',
      appVersion: '4.3.0',
      appBuildVersion: '430',
      osVersion: 'iPhone OS 17.5.1 (21F90)',
      deviceType: 'Phone15,2',
    };
    const report = crash({ ...meta, platformArchitecture: 'arm64e', isTestFlightApp: false, lowPowerModeEnabled: 1 });
    expect(report).toMatchObject({
      process: 'example.larkfield.guide',
      version: '4.3.0',
      build: '430',
      os: { build: '21F90' },
      device: { model: 'Phone15,2' },
    });
    expect(report.attributes).toEqual({
      'process.signal': 'crash',
      'process.architecture': 'arm64e',
      'app.testInstallation': false,
      'device.lowPowerMode': true,
    });
  });

  it('has the stack of the thread that was blamed, whichever end its tree begins with', () => {
    const outermostFirst = { callStackRootFrames: [{ binaryName: '/usr/lib/dyld', subFrames: [stack(1)] }] };
    const report = crash({}, { callStackRootFrames: [stack(7)] }, { threadAttributed: true, ...outermostFirst });
    expect(report.threads.map(({ name, crashed }) => [name, crashed])).toEqual([
      ['Thread 0', false],
      ['Thread 1', true],
    ]);
    // Both ends lie in the loader here, so the order stays.
    expect(nativeFrames(report.exceptions[0]?.frames).map(({ image }) => image)).toEqual(['/usr/lib/dyld', 'Guide', 'dyld']);
    const turned = crash(
      {},
      {
        callStackRootFrames: [
          { binaryName: 'libsystem_pthread.dylib', subFrames: [{ binaryName: 'Guide', offsetIntoBinaryTextSegment: 3 }] },
        ],
      },
    );
    expect(nativeFrames(turned.exceptions[0]?.frames).map(({ image, pointsAt }) => [image, pointsAt])).toEqual([
      ['Guide', 'instruction'],
      ['libsystem_pthread.dylib', 'after-call'],
    ]);
  });

  it('follows the branch with the most samples, and says so', () => {
    const forked = [
      { binaryName: 'few', sampleCount: 2 },
      { binaryName: 'none' },
      { binaryName: 'many', sampleCount: 30, subFrames: [{ binaryName: 'dyld' }] },
    ];
    const report = crash({}, { callStackRootFrames: forked });
    expect(nativeFrames(report.exceptions[0]?.frames).map(({ image }) => image)).toEqual(['many', 'dyld']);
    expect(report.notes).toEqual(['of forking call stacks the branch with the most samples is shown; the file itself holds all']);
  });

  it('knows images by their UUID, and where they lie when both address and offset are told', () => {
    const one = '0A1B2C3D-0000-4000-8000-AABBCCDDEEFF';
    const other = '11111111-0000-4000-8000-000000000000';
    const third = '22222222-0000-4000-8000-000000000000';
    const frames = [
      { binaryUUID: one, binaryName: 'Guide', address: 4112, offsetIntoBinaryTextSegment: 16 },
      { binaryUUID: other, address: 8, offsetIntoBinaryTextSegment: 16 },
      { binaryUUID: third, binaryName: 'far', address: 8 },
    ];
    const tree = frames.reduceRight<JsonObject | null>(
      (inner, frame) => ({ ...frame, subFrames: inner ? [inner] : [] }),
      null,
    ) as JsonObject;
    expect(crash({}, { callStackRootFrames: [tree] }).images.map(({ name, loadAddress }) => [name, loadAddress])).toEqual([
      ['Guide', '0x1000'],
      ['unknown image', null],
      ['far', null],
    ]);
  });

  it('of a hang says for how long, also when it is the only diagnostic of the file', () => {
    const meta = { hangDuration: '21 sec' };
    const hang = {
      kind: 'hang',
      exceptions: [{ type: 'hang', message: 'not responding for 21 sec' }],
      occurredAt: '2026-11-20T09:11:12.000Z',
    };
    expect(onlyReport(JSON.stringify({ timeStampEnd: '2026-11-20 10:11:12 +0100', hangDiagnostics: [diagnostic(meta)] }))).toMatchObject(
      hang,
    );
    expect(onlyReport(JSON.stringify({ timeStampBegin: '2026-11-20 10:11:12 +0100', ...diagnostic(meta) }))).toMatchObject(hang);
    expect(onlyReport(JSON.stringify(diagnostic({ signal: 6 })))).toMatchObject({ kind: 'crash' });
  });

  it('of nothing but use holds no report', () => {
    expect(problemOf(JSON.stringify({ cpuExceptionDiagnostics: [diagnostic({})] }))).toMatchObject({ code: 'no-crash' });
  });

  it('of a hang shows the main thread, whichever was sampled first or is marked', () => {
    const worker: JsonObject = {
      callStackRootFrames: [
        { binaryName: 'Guide', offsetIntoBinaryTextSegment: 64, subFrames: [{ binaryName: 'libsystem_pthread.dylib' }] },
      ],
    };
    const main: JsonObject = { callStackRootFrames: [stack(16, 32)] };
    for (const stacks of [
      [worker, main],
      [{ ...worker, threadAttributed: true }, main],
      [main, worker],
    ]) {
      const hang = onlyReport(JSON.stringify({ hangDiagnostics: [diagnostic({ hangDuration: '3 sec' }, ...stacks)] }));
      expect(nativeFrames(hang.exceptions[0]?.frames).map((frame) => frame.imageOffset)).toEqual(['0x10', '0x20', null]);
      expect(hang.threads.find((thread) => !thread.crashed)?.frames).toHaveLength(2);
    }
  });

  it('is one of several in a list, each with all its diagnostics', () => {
    const payload = (offset: number) => ({
      crashDiagnostics: [
        diagnostic({ signal: 11 }, { callStackRootFrames: [stack(offset)] }),
        diagnostic({ signal: 6 }, { callStackRootFrames: [stack(offset + 1)] }),
      ],
      hangDiagnostics: [diagnostic({ hangDuration: '2 sec' }, { callStackRootFrames: [stack(offset + 2)] })],
    });
    const read = readCrashFile(new TextEncoder().encode(JSON.stringify([payload(16), payload(32)])), {
      receivedAt: '2026-01-01T00:00:00Z',
    });
    const offsets = read.ok && read.value.map((report) => nativeFrames(report.exceptions[0]?.frames)[0]?.imageOffset);
    expect(offsets).toEqual(['0x10', '0x11', '0x12', '0x20', '0x21', '0x22']);
  });
});
