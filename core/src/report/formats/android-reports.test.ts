import protobuf from 'protobufjs/minimal.js';
import { describe, expect, it } from 'vitest';
import { nativeFrames, onlyReport, problemOf } from '../testing/read-text.ts';
import { readCrashFile } from './crash-file.ts';

const readAt = (receivedAt: string, text: string) => readCrashFile(new TextEncoder().encode(text), { receivedAt });
const all = (text: string) => {
  const result = readAt('2026-11-23T00:00:00Z', text);
  return result.ok ? result.value : [];
};

describe('a tombstone', () => {
  const process = 'pid: 21034, tid: 21077, name: SoundWorker  >>> com.larkfield.guide <<<';
  const tombstone = (...lines: string[]) => onlyReport([process, ...lines].join('\n'));

  it.each([
    ['signal 11 (SIGSEGV), code 1 (SEGV_MAPERR), fault addr 0x0000000000000010', 'SIGSEGV', 'SEGV_MAPERR at 0x0000000000000010'],
    ['signal 6 (SIGABRT), code -1 (SI_QUEUE), fault addr --------', 'SIGABRT', null],
    ['signal 7 (SIGBUS), code 2 (BUS_ADRERR), fault addr --------', 'SIGBUS', 'BUS_ADRERR'],
    ['signal 9 (SIGKILL), code 0 (SI_USER from pid 1, uid 0)', 'SIGKILL', 'SI_USER'],
    ['signal 6 (SIGABRT), code -6 (SI_TKILL), fault addr --------', 'SIGABRT', null],
  ])('with "%s"', (line, type, message) => {
    expect(tombstone(line).exceptions[0]).toMatchObject({ type, message });
  });

  it('puts causes and what the program said last before the signal', () => {
    const report = tombstone(
      'signal 11 (SIGSEGV), code 9 (SEGV_MTESERR), fault addr 0xb0000',
      'Cause: [MTE]: Use After Free',
      "Abort message: 'no microphone'",
    );
    expect(report.exceptions[0]?.message).toBe('[MTE]: Use After Free; no microphone; SEGV_MTESERR at 0xb0000');
  });

  it('without a signal is still a crash, by what it said', () => {
    expect(tombstone("Abort message: 'no microphone'").exceptions[0]).toMatchObject({ type: 'crash', message: 'no microphone' });
  });

  it('has a stack and registers for each thread, and parts that are only to be read', () => {
    const report = tombstone(
      'signal 11 (SIGSEGV), code 1 (SEGV_MAPERR), fault addr 0x10',
      '    x0  0000000000000000  x1  00000000000000ff',
      '    pc  0000007300001000',
      'backtrace:',
      '      #00 pc 000000000001a2b4  /data/app/libsound.so (offset 0x1c000) (Spectrum::peak(float const*)+84) (BuildId: 12AB)',
      '      #01 pc 0000000000000010  <unknown>',
      'memory near x0:',
      '    0000007300001000 0000000000000000',
      '--- --- --- --- --- --- --- --- --- --- --- --- --- --- --- ---',
      'pid: 21034, tid: 21034, name: main  >>> com.larkfield.guide <<<',
      'backtrace:',
      '      #00 pc 0000000000000020  /system/lib64/libc.so (__epoll_pwait+8) (BuildId: 12ab)',
      'memory map (2 entries):',
      '    00000000-00000fff r-x /data/app/libsound.so',
    );
    expect(report.threads.map(({ name, id, crashed, registers }) => [name, id, crashed, registers])).toEqual([
      ['SoundWorker', 21_077, true, { x0: '0x0', x1: '0xff', pc: '0x7300001000' }],
      ['main', 21_034, false, {}],
    ]);
    expect(nativeFrames(report.exceptions[0]?.frames)).toMatchObject([
      {
        imageAddress: '0x1a2b4',
        image: '/data/app/libsound.so',
        fileOffset: '0x1c000',
        function: 'Spectrum::peak(float const*)',
        functionOffset: 84,
        symbolId: '12ab',
      },
      { imageAddress: '0x10', image: null, function: null, symbolId: null },
    ]);
    // Two images of one build id are one image.
    expect(report.images).toHaveLength(1);
    expect(report.sections.map(({ name, text }) => [name, text])).toEqual([
      ['memory near x0:', '    0000007300001000 0000000000000000'],
      ['memory map (2 entries):', '    00000000-00000fff r-x /data/app/libsound.so'],
    ]);
  });
});

describe('a frame of the unwinder', () => {
  const frame = (line: string) => {
    const report = onlyReport(['pid: 1, tid: 1, name: a  >>> b <<<', 'signal 6 (SIGABRT), code 0 (SI_USER)', line].join('\n'));
    return nativeFrames(report.exceptions[0]?.frames)[0];
  };

  it.each([
    ['#00 pc 10  /lib/a.so (operator()(int)+4)', { image: '/lib/a.so', function: 'operator()(int)', functionOffset: 4 }],
    ['#00 pc 10  /lib/a.so (a::(anonymous namespace)::f())', { function: 'a::(anonymous namespace)::f()', functionOffset: null }],
    ['#00 pc 10  /lib/a(1)', { image: '/lib/a(1)', function: null }],
    ['#00 pc 10  /app/base.apk (offset 0x1000)', { image: '/app/base.apk', fileOffset: '0x1000', function: null }],
    ['#00 pc 10  /lib/unbalanced)', { image: '/lib/unbalanced)', function: null }],
    ['#00 pc 0x10', { image: null, imageAddress: '0x10' }],
  ] as [string, object][])('%s', (line, known) => expect(frame(`    ${line}`)).toMatchObject(known));
});

describe('a tombstone as protobuf', () => {
  type Value = number | bigint | string | Uint8Array;
  const message = (...fields: [field: number, value: Value][]): Uint8Array => {
    const writer = protobuf.Writer.create();
    for (const [field, value] of fields) {
      if (typeof value === 'number' || typeof value === 'bigint') {
        const whole = BigInt.asUintN(64, BigInt(value));
        writer
          .uint32((field << 3) >>> 0)
          .uint64({ low: Number(whole & 0xffff_ffffn), high: Number(whole >> 32n), unsigned: true } as never);
      } else if (typeof value === 'string') writer.uint32(((field << 3) | 2) >>> 0).string(value);
      else writer.uint32(((field << 3) | 2) >>> 0).bytes(value);
    }
    return writer.finish();
  };
  const read = (...fields: [number, Value][]) => {
    const result = readCrashFile(message([1, 1], [2, 'Tarn/x2/x2:14/UP1A.231005.007/1:user/release-keys'], ...fields), {
      receivedAt: '2026-11-23T00:00:00Z',
    });
    if (!result.ok) throw new Error(result.problem.message);
    return result.value[0];
  };
  const thread = (id: number, ...fields: [number, Value][]): [number, Value] => [16, message([1, id], [2, message([1, id], ...fields)])];

  it.each<[what: string, signal: [number, Value][], type: string, text: string | null]>([
    [
      'a named signal and its address',
      [
        [1, 11],
        [2, 'SIGSEGV'],
        [4, 'SEGV_MAPERR'],
        [8, 1],
        [9, 16],
      ],
      'SIGSEGV',
      'SEGV_MAPERR at 0x10',
    ],
    [
      'an address that says nothing',
      [
        [1, 11],
        [2, 'SIGSEGV'],
        [4, 'SEGV_MAPERR'],
        [9, 16],
      ],
      'SIGSEGV',
      'SEGV_MAPERR',
    ],
    ['a number alone', [[1, 35]], 'signal 35', null],
  ])('with %s', (_, signal, type, text) => {
    expect(read([10, message(...signal)])?.exceptions[0]).toMatchObject({ type, message: text });
  });

  it('without a signal is a crash of the thread it names', () => {
    const report = read([6, 8], thread(7, [2, 'main']), thread(8, [4, message([1, 16], [2, 4096])], [7, 'the unwinder stopped early']));
    expect(report?.exceptions[0]).toMatchObject({ type: 'crash', message: null });
    expect(report?.threads.map(({ name, id, crashed }) => [name, id, crashed])).toEqual([
      ['Thread 8', 8, true],
      ['main', 7, false],
    ]);
    expect(nativeFrames(report?.exceptions[0]?.frames)).toMatchObject([
      { imageAddress: '0x10', address: '0x1000', image: null, fileOffset: null, functionOffset: null },
    ]);
    expect(report?.notes).toEqual(['the unwinder stopped early']);
  });

  it('tells of the process, the system and what stood in memory and log', () => {
    const map = message([1, 0x1000n], [2, 0x2000n], [4, 1], [6, 1], [7, '/lib/a.so'], [8, '12ab']);
    const line = message([1, '11-20 10:11:11.900'], [2, 21], [3, 22], [5, 'Sound'], [6, 'window 4096']);
    const report = read(
      [4, '2026-11-20 10:11:12.123456789+0100'],
      [9, 'com.larkfield.guide'],
      [9, '--flag'],
      [14, 'no microphone'],
      [15, message([1, 'Use After Free'])],
      [10, message([2, 'SIGABRT'], [4, 'SI_QUEUE'])],
      [17, map],
      [17, message([1, 0x3000n], [2, 0x4000n], [5, 1])],
      [18, message([1, 'main'], [2, line], [2, message([6, 'no more'])])],
      [18, message()],
      [20, 61],
    );
    expect(report).toMatchObject({
      process: 'com.larkfield.guide',
      occurredAt: '2026-11-20T09:11:12.123Z',
      os: { version: '14' },
      device: { model: 'x2' },
    });
    expect(report?.exceptions[0]?.message).toBe('Use After Free; no microphone');
    expect(report?.attributes).toMatchObject({ 'process.architecture': 'arm64', 'process.uptime': '61s' });
    expect(report?.sections.map(({ name, text }) => [name, text])).toEqual([
      [
        'memory map (2 entries)',
        '0000000000001000-0000000000002000 r-x 0x0 /lib/a.so (BuildId: 12ab)\n0000000000003000-0000000000004000 -w- 0x0',
      ],
      ['log main', '11-20 10:11:11.900 21 22 Sound: window 4096\n 0 0 : no more'],
      ['log', ''],
    ]);
  });

  it('keeps registers under names that fit, as 64-bit numbers', () => {
    const registers: [number, Value][] = [
      [3, message([1, 'pc'], [2, 2n ** 64n - 1n])],
      [3, message([1, 'a-register-with-a-long-name'], [2, 1])],
      [3, message([2, 1])],
    ];
    expect(read([6, 7], thread(7, ...registers))?.threads[0]?.registers).toEqual({ pc: '0xffffffffffffffff' });
  });

  it('of an unknown architecture says so, and one with nothing of a crash is none', () => {
    expect(readCrashFile(message([1, 5], [2, 'x'], [10, message([1, 11])]), { receivedAt: '2026-11-23T00:00:00Z' })).toMatchObject({
      value: [{ attributes: { 'process.architecture': 'unknown' } }],
    });
    expect(readCrashFile(message([1, 1], [2, 'no more than that'], [5, 7]), { receivedAt: '2026-11-23T00:00:00Z' })).toMatchObject({
      ok: false,
    });
    expect(readCrashFile(Uint8Array.from([0x08, 1, 0x12, 200, 0, 0]), { receivedAt: '2026-11-23T00:00:00Z' })).toMatchObject({
      problem: { code: 'not-text' },
    });
  });
});

describe('a dump of threads', () => {
  const dump = (...lines: string[]) =>
    [
      '----- pid 21034 at 2026-11-20 10:11:12.123+0100 -----',
      'Cmd line: com.larkfield.guide',
      '',
      ...lines,
      '',
      '----- end 21034 -----',
    ].join('\n');

  it('says why the main thread waits, and who holds what', () => {
    const report = onlyReport(
      [
        'Subject: Input dispatching timed out (5001ms)',
        dump(
          '"Export" prio=5 tid=14 Runnable',
          '  at com.larkfield.guide.Export.finish(Export.java:61)',
          '  - locked <0x0a1b2c3d> (a java.lang.Object)',
          '',
          '"main" prio=5 tid=1 Blocked',
          '  | sysTid=21035 nice=-10',
          '  at com.larkfield.guide.Diary.write(Diary.java:52)',
          '  - waiting to lock <0x0a1b2c3d> (a java.lang.Object) held by thread 14',
          '  - waiting on <0x0b> (a java.lang.Thread)',
        ),
      ].join('\n'),
    );
    expect(report).toMatchObject({ kind: 'hang', process: 'com.larkfield.guide', occurredAt: '2026-11-20T09:11:12.123Z', os: null });
    expect(report.exceptions[0]).toMatchObject({
      type: 'not responding',
      message: 'Input dispatching timed out (5001ms); the main thread waits for java.lang.Object, held by "Export"',
    });
    expect(report.threads.map(({ name, crashed, state, waitsFor }) => [name, crashed, state, waitsFor])).toEqual([
      ['main', true, 'Blocked', { what: 'java.lang.Object', threadId: 14 }],
      ['Export', false, 'Runnable', null],
    ]);
    expect(report.sections).toEqual([expect.objectContaining({ name: 'Monitors', text: '"Export" holds java.lang.Object' })]);
  });

  it.each([
    ['- sleeping on <0x0c> (a java.lang.Object)', 'the main thread waits for java.lang.Object'],
    ['- parking to wait for  an unknown object', 'the main thread waits for an unknown object'],
    ['- waiting on <0x0c> (a java.lang.Object) held by thread 99', 'the main thread waits for java.lang.Object'],
    ['(no managed stack frames)', null],
  ])('with "%s"', (line, message) => {
    expect(onlyReport(dump('"main" prio=5 tid=1 Waiting', `  ${line}`)).exceptions[0]?.message).toBe(message);
  });

  it('without a main thread tells of the first, and keeps lines of no thread to be read', () => {
    const report = onlyReport(
      dump(
        '"Signal Catcher" daemon prio=10 tid=4 Runnable',
        '  native: #00 pc 00000010  /lib/a.so (wait+4)',
        '',
        'Zygote loaded classes: 1',
        'a line',
      ),
    );
    expect(report.threads[0]).toMatchObject({ name: 'Signal Catcher', crashed: true });
    expect(nativeFrames(report.exceptions[0]?.frames)).toMatchObject([{ function: 'wait', functionOffset: 4 }]);
    expect(report.sections).toEqual([
      expect.objectContaining({ name: 'Further lines of the dump', text: 'Zygote loaded classes: 1\na line' }),
    ]);
  });
});

describe('exit information', () => {
  const entry = (text: string) => `ApplicationExitInfo(timestamp=2026-11-20 10:11:12.123 pid=1 process=com.larkfield.guide ${text})`;

  it.each([
    ['reason=3 (LOW_MEMORY) subreason=0 (UNKNOWN) description=null', 'kill', 'LOW_MEMORY', 'ended because the device ran out of memory'],
    [
      'reason=9 (EXCESSIVE RESOURCE USAGE) subreason=7 (EXCESSIVE CPU) description=excessive cpu 61000',
      'kill',
      'EXCESSIVE_RESOURCE_USAGE',
      'used too much of the device; EXCESSIVE CPU; excessive cpu 61000',
    ],
    ['reason=6 (ANR) description=user request after error', 'hang', 'ANR', 'the app did not respond; user request after error'],
    ['reason=99 (NEW REASON)', 'kill', 'NEW REASON', 'ended by the system'],
    ['reason=99', 'kill', 'reason 99', 'ended by the system'],
  ])('%s', (text, kind, type, message) => {
    const report = onlyReport(entry(text));
    expect(report).toMatchObject({ kind, process: 'com.larkfield.guide', occurredAt: '2026-11-20T10:11:12.123Z', notes: [] });
    expect(report.exceptions[0]).toMatchObject({ type, message });
  });

  it('keeps what it tells of memory and importance, and nothing that it does not', () => {
    const report = onlyReport(entry('reason=2 (SIGNALED) subreason=0 (UNKNOWN) status=9 importance=100 pss=212MB rss=null'));
    expect(report.attributes).toEqual({
      'exit.reason': 'SIGNALED',
      'exit.subreason': 'UNKNOWN',
      'exit.status': '9',
      'exit.importance': '100',
      'exit.proportionalMemory': '212MB',
    });
  });

  it("of ends that are nobody's fault becomes no report, and the first report counts them", () => {
    const closed = entry('reason=10 (USER REQUESTED)');
    const [first, second, ...others] = all(
      [closed, entry('reason=4 (CRASH)'), closed, entry('reason=5 (CRASH_NATIVE)'), 'ApplicationExitInfo #3:', 'reason=soon'].join('\n'),
    );
    expect(others).toEqual([]);
    expect(first).toMatchObject({ kind: 'crash', notes: ["2 further ends are nobody's fault and became no report"] });
    expect(second).toMatchObject({ kind: 'crash', notes: [] });
    expect(problemOf(closed)).toMatchObject({ code: 'no-crash' });
  });
});

describe('a log', () => {
  const crash = [
    'FATAL EXCEPTION: main',
    'Process: com.larkfield.guide, PID: 21034',
    'java.lang.IllegalStateException: no tile',
    '\tat com.larkfield.guide.NightMap.tileFor(NightMap.java:88)',
  ];

  it.each([
    ['threadtime', (text: string) => `11-20 10:11:12.123 21034 21034 E AndroidRuntime: ${text}`],
    ['with a user before the process', (text: string) => `11-20 10:11:12.123 u0_a12 21034 21034 E AndroidRuntime: ${text}`],
    ['time', (text: string) => `11-20 10:11:12.123 E/AndroidRuntime(21034): ${text}`],
    ['with year and zone', (text: string) => `2026-11-20 10:11:12.123456 +0000 21034 21034 E AndroidRuntime: ${text}`],
    ['brief', (text: string) => `E/AndroidRuntime( 21034): ${text}`],
  ])('in the form %s', (form, line) => {
    const report = onlyReport(crash.map(line).join('\n'));
    expect(report).toMatchObject({
      format: 'logcat',
      process: 'com.larkfield.guide',
      occurredAt: form === 'brief' ? null : '2026-11-20T10:11:12.123Z',
      attributes: { 'log.tag': 'AndroidRuntime' },
    });
    expect(report.exceptions[0]).toMatchObject({ type: 'java.lang.IllegalStateException', message: 'no tile' });
    expect(report.exceptions[0]?.frames).toHaveLength(1);
  });

  it('without a year is of the latest one that does not lie ahead', () => {
    const log = crash.map((text) => `12-31 23:59:59.000 21034 21034 E AndroidRuntime: ${text}`).join('\n');
    const at = (receivedAt: string) => {
      const result = readAt(receivedAt, log);
      return result.ok ? result.value[0]?.occurredAt : null;
    };
    expect(at('2027-01-01T00:10:00Z')).toBe('2026-12-31T23:59:59.000Z');
    expect(at('2026-12-31T12:00:00Z')).toBe('2026-12-31T23:59:59.000Z');
    expect(onlyReport(log.replaceAll('12-31', '13-41')).occurredAt).toBeNull();
  });

  it('may name no process, and tells crashes of one process from what others write in between', () => {
    const lines = crash.filter((_, at) => at !== 1).map((text) => `E/AndroidRuntime(  7): ${text}`);
    lines.splice(1, 0, 'I/System  (  8): hello', 'E/AndroidRuntime(  9): not a crash');
    lines.push('D/Sound   (  7): window 4096', ...crash.map((text) => `E/AndroidRuntime( 10): ${text}`));
    expect(all(lines.join('\n')).map(({ process, exceptions }) => [process, exceptions[0]?.frames.length])).toEqual([
      [null, 1],
      ['com.larkfield.guide', 1],
    ]);
  });

  it('of anything else holds no crash', () => {
    expect(
      problemOf(['11-20 10:11:12.123 1 1 I Sound: window', '11-20 10:11:12.200 1 1 F DEBUG: *** *** *** *** not a tombstone'].join('\n')),
    ).toMatchObject({ code: 'no-crash' });
  });
});
