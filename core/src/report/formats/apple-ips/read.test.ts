import { describe, expect, it } from 'vitest';
import { nativeFrames, onlyReport, problemOf } from '../../testing/read-text.ts';
import type { JsonObject } from '../json-reader.ts';

describe('an .ips file', () => {
  const ips = (body: JsonObject, head: JsonObject = { bug_type: '309' }) => onlyReport(`${JSON.stringify(head)}\n${JSON.stringify(body)}`);
  const thread = { triggered: true, frames: [{ imageOffset: 16, imageIndex: 0 }] };

  it('tells of a crash with numbers for names', () => {
    const report = ips({ exception: { type: 1, signal: 11 }, threads: [thread] });
    expect(report).toMatchObject({ format: 'apple-ips', kind: 'crash', attributes: { 'process.signal': 'EXC_BAD_ACCESS (SIGSEGV)' } });
    expect(report.exceptions[0]).toMatchObject({ type: 'EXC_BAD_ACCESS (SIGSEGV)', message: null, relation: 'thrown' });
  });

  it.each<[what: string, body: JsonObject, type: string, message: string | null]>([
    ['an exception without a signal', { exception: { type: 'EXC_GUARD' }, threads: [] }, 'EXC_GUARD', null],
    ['an exception without a type', { exception: { signal: 'SIGABRT' }, threads: [] }, 'unknown exception (SIGABRT)', null],
    [
      'a subtype',
      { exception: { type: 'EXC_BAD_ACCESS', subtype: 'KERN_INVALID_ADDRESS at 0x0' } },
      'EXC_BAD_ACCESS',
      'KERN_INVALID_ADDRESS at 0x0',
    ],
    ['a termination alone', { termination: { namespace: 'DYLD', code: 1, indicator: 'Library missing' } }, 'DYLD 0x1', 'Library missing'],
    ['a termination without a namespace', { termination: { reasons: ['it had to go', 7] } }, 'termination', 'it had to go'],
    ['nothing but threads', { threads: [] }, 'crash', null],
    [
      'a termination and what a library said',
      {
        exception: { type: 'EXC_CRASH' },
        termination: { namespace: 'SIGNAL', indicator: 'Abort trap: 6' },
        asi: { 'libsystem_c.dylib': ['abort() called', ' '] },
      },
      'EXC_CRASH',
      'abort() called',
    ],
  ])('with %s says what ended it', (_, body, type, message) => {
    expect(ips(body).exceptions[0]).toMatchObject({ type, message });
  });

  it('of a watchdog is a kill, with both what it means and what the system said', () => {
    const report = ips({
      termination: { namespace: 'FRONTBOARD', code: 0x8badf00d, reasons: ['scene-create took 20.1 s'] },
      asi: { UIKit: ['waiting'] },
    });
    expect(report.kind).toBe('kill');
    expect(report.exceptions[0]?.message).toBe(
      'the watchdog ended it: it took too long to start, to end or to answer; waiting; scene-create took 20.1 s',
    );
  });

  it('takes what the head alone knows, and prefers what the body says', () => {
    const head = {
      bug_type: '309',
      incident_id: '0A1B2C3D-0000-4000-8000-AABBCCDDEEFF',
      timestamp: '2026-11-20 10:11:12.00 +0100',
      app_name: 'Guide',
      app_version: '4.3.0',
      build_version: '430',
      os_version: 'iPhone OS 17.5.1 (21F90)',
    };
    expect(ips({ threads: [] }, head)).toMatchObject({
      id: '0a1b2c3d-0000-4000-8000-aabbccddeeff',
      occurredAt: '2026-11-20T09:11:12.000Z',
      process: 'Guide',
      version: '4.3.0',
      build: '430',
      os: { name: 'iOS', version: '17.5.1', build: '21F90' },
      device: null,
    });
    const body = {
      threads: [],
      incident: '11111111-0000-4000-8000-000000000000',
      captureTime: '2026-11-21 10:11:12.00 +0000',
      procName: 'guide',
      bundleInfo: { CFBundleIdentifier: 'example.larkfield.guide', CFBundleShortVersionString: '4.4.0', CFBundleVersion: '440' },
      osVersion: { train: 'iPhone OS 18.0', build: '22A1' },
      modelCode: 'Phone15,2',
      procRole: 'Foreground',
      coalitionName: '',
      cpuType: 'ARM-64',
      uptime: 3600,
      wasUnlockedSinceBoot: 1,
    };
    const report = ips(body, head);
    expect(report).toMatchObject({
      id: '11111111-0000-4000-8000-000000000000',
      occurredAt: '2026-11-21T10:11:12.000Z',
      process: 'example.larkfield.guide',
      version: '4.4.0',
      build: '440',
      os: { name: 'iOS', version: '18.0', build: '22A1' },
      device: { manufacturer: 'Apple', model: 'Phone15,2' },
    });
    expect(report.attributes).toEqual({
      'process.signal': 'crash',
      'process.role': 'Foreground',
      'process.architecture': 'ARM-64',
      'device.uptimeSeconds': 3600,
      'device.unlockedSinceBoot': true,
    });
  });

  it('with an incident that is no UUID has no id, and a system without a number none', () => {
    expect(ips({ threads: [], incident: 'yesterday', osVersion: { build: '21F90' } })).toMatchObject({ id: null, os: null });
  });

  it('names the exception of the language from its reason, and what follows it as kept text', () => {
    const reason = { composed_message: 'index 9 beyond bounds', name: 'NSRangeException' };
    const report = ips({ exception: { type: 'EXC_CRASH', signal: 'SIGABRT' }, exceptionReason: reason, threads: [thread] });
    expect(report.exceptions).toHaveLength(1);
    expect(report.exceptions[0]).toMatchObject({ type: 'NSRangeException', message: 'index 9 beyond bounds' });
    expect(ips({ threads: [], exceptionReason: { composed_message: 'gone' } }).exceptions[0]).toMatchObject({
      type: 'NSException',
      message: 'gone',
    });
    expect(report.sections.map(({ name }) => name)).toEqual(['Further fields of the report']);
  });

  it('with a backtrace of its own for the exception has it first, and the thread that aborted beside it', () => {
    const report = ips({
      exception: { type: 'EXC_CRASH', signal: 'SIGABRT' },
      asi: { CoreFoundation: ['abandoned'] },
      lastExceptionBacktrace: [{ imageOffset: 1 }, { imageOffset: 2 }],
      threads: [thread],
      faultingThread: 0,
    });
    expect(report.exceptions.map(({ type, message, relation, parent }) => [type, message, relation, parent])).toEqual([
      ['NSException', 'abandoned', 'thrown', null],
    ]);
    expect(report.threads).toMatchObject([{ crashed: true, frames: [{ runtime: 'native' }] }]);
    expect(report.attributes).toMatchObject({ 'process.signal': 'EXC_CRASH (SIGABRT)', 'process.end': 'abandoned' });
    expect(nativeFrames(report.exceptions[0]?.frames).map((frame) => frame.pointsAt)).toEqual(['after-call', 'after-call']);
  });

  it('finds the thread that crashed by its mark or by its number, and the names of the others', () => {
    const threads = [{ queue: 'com.larkfield.tiles', id: 7, frames: [] }, { frames: [{ imageOffset: 4 }] }, { name: 'audio', queue: 'q' }];
    const report = ips({ threads, faultingThread: 1 });
    expect(report.threads.map(({ name, id, crashed }) => [name, id, crashed])).toEqual([
      ['com.larkfield.tiles', 7, false],
      ['Thread 1', null, true],
      ['audio', null, false],
    ]);
    expect(report.exceptions[0]?.frames).toHaveLength(1);
    expect(report.threads[1]?.frames).toEqual([]);
  });

  it('keeps the registers of a thread, in rows and one by one', () => {
    const threadState = {
      x: [{ value: 0 }, { value: 255 }, { other: 1 }],
      pc: { value: '0xFF' },
      flavor: 'ARM_THREAD_STATE64',
      esr: { value: -1 },
    };
    expect(ips({ threads: [{ triggered: true, threadState }] }).threads[0]?.registers).toEqual({ x0: '0x0', x1: '0xff', pc: '0xff' });
  });

  it('places frames in their images, and leaves out what the device did not know', () => {
    const report = ips({
      usedImages: [
        { base: 0x1000, uuid: '0A1B2C3D-0000-4000-8000-AABBCCDDEEFF', path: '/app/Guide', arch: 'arm64', size: 4096 },
        { base: 0x8000, uuid: '00000000-0000-0000-0000-000000000000', name: 'dyld' },
        {},
        { base: '0xffffffffffffffff', name: 'last' },
      ],
      threads: [
        {
          triggered: true,
          frames: [
            { imageIndex: 0, imageOffset: 16, symbol: 'tile', symbolLocation: 4, sourceFile: 'Map.swift', sourceLine: 12 },
            { imageIndex: 1, imageOffset: 2 },
            { imageIndex: 2, imageOffset: 3, sourceLine: 4_294_967_296 },
            { imageIndex: 9, imageOffset: 4 },
            { imageIndex: 3, imageOffset: 5 },
            { imageIndex: 0 },
          ],
        },
      ],
    });
    expect(report.images).toEqual([
      {
        name: '/app/Guide',
        symbolId: '0a1b2c3d000040008000aabbccddeeff',
        architecture: 'arm64',
        loadAddress: '0x1000',
        sizeBytes: 4096,
      },
      { name: 'dyld', symbolId: null, architecture: null, loadAddress: '0x8000', sizeBytes: null },
      { name: 'unknown image', symbolId: null, architecture: null, loadAddress: null, sizeBytes: null },
      { name: 'last', symbolId: null, architecture: null, loadAddress: '0xffffffffffffffff', sizeBytes: null },
    ]);
    expect(
      nativeFrames(report.exceptions[0]?.frames).map(({ address, image, imageOffset, line }) => [address, image, imageOffset, line]),
    ).toEqual([
      ['0x1010', '/app/Guide', '0x10', 12],
      ['0x8002', 'dyld', '0x2', null],
      [null, 'unknown image', '0x3', null],
      [null, null, '0x4', null],
      [null, 'last', '0x5', null],
      [null, '/app/Guide', null, null],
    ]);
  });

  it('tells inlined calls from the frames they are part of', () => {
    const frames = [
      { imageOffset: 8, symbol: 'outer', inlineFrames: [{ symbol: 'inner', sourceFile: 'a.swift', sourceLine: 3 }] },
      { imageOffset: 9, symbol: 'marked', inline: true },
      { imageOffset: 9, symbol: 'caller' },
    ];
    const report = ips({ threads: [{ triggered: true, frames }] });
    expect(nativeFrames(report.exceptions[0]?.frames).map((frame) => [frame.function, frame.inlined, frame.pointsAt])).toEqual([
      ['inner', true, 'instruction'],
      ['outer', false, 'instruction'],
      ['marked', true, 'after-call'],
      ['caller', false, 'after-call'],
    ]);
  });

  it('of another kind is no crash, and one cut off is damaged', () => {
    expect(problemOf(`${JSON.stringify({ bug_type: '313' })}\n${JSON.stringify({ battery: 12 })}`)).toMatchObject({ code: 'no-crash' });
    expect(problemOf(`${JSON.stringify({ bug_type: '309' })}\n{"threads": [`)).toMatchObject({ code: 'damaged', line: 2 });
    expect(problemOf('{"bug_type"')).toMatchObject({ code: 'no-crash' });
  });

  it('may be one document alone, or a head before the older text', () => {
    expect(onlyReport(JSON.stringify({ bugType: '309', exception: { type: 'EXC_CRASH' }, threads: [] })).exceptions[0]?.type).toBe(
      'EXC_CRASH',
    );
    const text = [
      'Process:  Guide [12]',
      'Exception Type:  EXC_CRASH (SIGABRT)',
      '',
      'Thread 0 Crashed:',
      '0  Guide  0x0000000100004000 tile + 4',
      '',
    ];
    expect(onlyReport(`${JSON.stringify({ bug_type: '109' })}\n${text.join('\n')}`)).toMatchObject({
      format: 'apple-crash-text',
      process: 'Guide',
    });
  });
});

describe('a memory-kill event', () => {
  const kill = (body: JsonObject, head: JsonObject = { bug_type: '298' }) => onlyReport(`${JSON.stringify(head)}\n${JSON.stringify(body)}`);

  it('tells of the process that was ended, and of how much it held', () => {
    const report = kill({
      largestProcess: 'Guide',
      memoryStatus: { pageSize: 4096 },
      product: 'Phone15,2',
      build: 'iPhone OS 17.5.1 (21F90)',
      date: '2026-11-20 10:11:12.00 +0100',
      incident: '0A1B2C3D-0000-4000-8000-AABBCCDDEEFF',
      processes: [
        { name: 'Guide', rpages: 900 },
        { name: 'Trails', rpages: 51_200, lifetimeMax: 102_400, reason: 'per-process-limit', states: ['frontmost', 3, 'resume'] },
      ],
    });
    expect(report).toMatchObject({
      kind: 'kill',
      process: 'Trails',
      occurredAt: '2026-11-20T09:11:12.000Z',
      os: { version: '17.5.1' },
      device: { model: 'Phone15,2' },
    });
    expect(report.exceptions[0]).toMatchObject({ type: 'memory kill (per-process-limit)', message: 'Trails held 200 MB' });
    expect(report.attributes).toEqual({
      'process.memoryBytes': 209_715_200,
      'process.peakMemoryBytes': 419_430_400,
      'process.states': ['frontmost', 'resume'],
      'kill.reason': 'per-process-limit',
    });
  });

  it('that names no reason tells of the largest, and one without any name is none', () => {
    const report = kill(
      { largestProcess: 'Guide', processes: [{ name: 'Guide', rpages: 640 }] },
      { bug_type: '298', os_version: 'iPhone OS 17.0' },
    );
    expect(report.exceptions[0]).toMatchObject({ type: 'memory kill', message: 'Guide held 10 MB' });
    expect(report).toMatchObject({ id: null, os: { version: '17.0' }, device: null });
    expect(kill({ largestProcess: 'Guide', processes: [] }).exceptions[0]).toMatchObject({ message: null });
    expect(problemOf(JSON.stringify({ processes: [{ rpages: 1 }] }))).toMatchObject({ code: 'no-crash' });
  });
});
