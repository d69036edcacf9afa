import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { formatFrame } from '../../format-frame.ts';
import { wordCutStacks } from '../../frame-room.ts';
import { readCrashFile } from '../crash-file.ts';
import { formatJvmFrame, parseJvmFrame } from './frame.ts';

const receivedAt = '2026-01-02T10:00:00.000Z';
const read = (text: string) => {
  const result = readCrashFile(new TextEncoder().encode(text), { receivedAt });
  if (!result.ok) throw new Error(result.problem.message);
  return result.value;
};
const build = (version: string, screen: string) =>
  readFileSync(new URL(`../../../../../demo/larkfield-guide/builds/${version}/crashes/${screen}.txt`, import.meta.url), 'utf8');

describe('a JVM stack trace', () => {
  it('gives the chain of causes in order, each with the frames it shares with its parent', () => {
    const [crash] = read(build('4.1.0', 'sighting-form'));
    expect(crash?.threads).toMatchObject([{ name: 'main', crashed: true, frames: [] }]);
    expect(crash?.exceptions.map(({ type, relation, parent, framesInCommon }) => ({ type, relation, parent, framesInCommon }))).toEqual([
      { type: 'g', relation: 'thrown', parent: null, framesInCommon: 0 },
      { type: 'java.io.UncheckedIOException', relation: 'cause', parent: 0, framesInCommon: 1 },
      { type: 'java.io.EOFException', relation: 'cause', parent: 1, framesInCommon: 3 },
    ]);
    expect(crash?.exceptions[2]?.frames.map(formatFrame)).toEqual([
      'f.a(SourceFile:1028)',
      'java.base/java.util.ArrayList.forEach(ArrayList.java:1511)',
      'f.a(SourceFile:19)',
      'com.larkfield.guide.Guide.main(SourceFile:15)',
    ]);
  });

  it('keeps a message of several lines, also one that begins like a frame', () => {
    const [crash] = read(build('4.1.0', 'track-import'));
    expect(crash?.exceptions[0]?.message).toBe('point cannot be read:\n  53.42,-2.9x\n  at most two numbers are expected');
  });

  it('puts suppressed exceptions after the chain and ties them to their parent', () => {
    const [crash] = read(build('4.1.0', 'diary-export'));
    expect(crash?.exceptions.map(({ type, relation, parent }) => ({ type, relation, parent }))).toEqual([
      { type: 'e', relation: 'thrown', parent: null },
      { type: 'java.lang.IllegalStateException', relation: 'suppressed', parent: 0 },
    ]);
  });

  it('tells nested suppressed exceptions and causes apart by their indentation', () => {
    const [crash] = read(
      [
        'Exception in thread "io" a.Top: top',
        '\tat a.A.a(A.java:1)',
        '\tSuppressed: a.First: first',
        '\t\tat a.B.b(B.java:2)',
        '\t\tSuppressed: a.Inner',
        '\t\t\tat a.C.c(C.java:3)',
        '\tCaused by: a.CauseOfFirst',
        '\t\tat a.D.d(D.java:4)',
        'Caused by: a.CauseOfTop',
        '\tat a.E.e(E.java:5)',
        '',
      ].join('\r\n'),
    );
    expect(crash?.exceptions.map(({ type, relation, parent }) => `${type} ${relation} ${parent}`)).toEqual([
      'a.Top thrown null',
      'a.CauseOfTop cause 0',
      'a.First suppressed 0',
      'a.CauseOfFirst cause 2',
      'a.Inner suppressed 2',
    ]);
  });

  it('reads a trace that was only logged, without naming its thread', () => {
    const [crash] = read(
      '2026-01-02 ERROR upload failed\njava.lang.IllegalStateException: no\n  route\n\tat a.b.C.d(C.kt:7) ~[app.jar:1.2]\n',
    );
    expect(crash?.exceptions[0]).toMatchObject({ type: 'java.lang.IllegalStateException', message: 'no\n  route' });
    expect(crash?.threads).toEqual([]);
  });

  it('finds every crash of a text', () => {
    expect(read(`${build('4.1.0', 'checklist')}some talk\n${build('4.1.0', 'tides')}`).map((crash) => crash.threads[0]?.name)).toEqual([
      'main',
      'tide-loader',
    ]);
  });

  it('never keeps more frames than a report may have', () => {
    const [crash] = read(`Exception in thread "main" java.lang.StackOverflowError\n${'\tat a.B.c(B.java:1)\n'.repeat(5_000)}`);
    expect(crash?.exceptions[0]?.frames).toHaveLength(2_000);
    expect(crash?.notes).toEqual([wordCutStacks]);
    expect(crash?.exceptions[0]?.framesLeftOut?.after).toBe(1_000);
  });

  it.each([
    ['', 'empty'],
    ['just some words\nand more', 'no-crash'],
    ['\u0000\u0001\u0002ELF', 'not-text'],
  ])('refuses %j as %s', (text, code) => {
    const result = readCrashFile(new TextEncoder().encode(text), { receivedAt });
    expect(result.ok ? null : result.problem.code).toBe(code);
  });
});

describe('a frame', () => {
  it.each([
    'java.base/java.util.ArrayList.forEach(ArrayList.java:1511)',
    'app//com.larkfield.Guide.main(Guide.java:3)'.replace('//', '/'),
    'platform/java.net.http@17.0.1/jdk.internal.Net.read(Native Method)',
    'a.B$$Lambda/0x0000000800c03000.run(Unknown Source)',
    'a.B$$Lambda$14/0x0000000800c03000.run(Unknown Source)',
    'a.b.<init>(SourceFile:12)',
    'a.b.-$$Nest$smfoo(r8-map-id-4f1a:7)',
    'données.Été.voilà(Été.kt:1)',
  ])('is written back as it was read: %s', (text) => {
    const frame = parseJvmFrame(text);
    expect(frame && formatJvmFrame(frame)).toBe(text);
  });

  it.each(['most two numbers (more or less)', 'least.one thing(x)', 'nothing', 'a(', '(a.b)', 'a.b(c) and then'])(
    'is not seen in %j',
    (text) => {
      expect(parseJvmFrame(text)).toBeNull();
    },
  );
});

describe('logcat output', () => {
  const log = [
    '--------- beginning of crash',
    '12-31 23:59:58.120  4711  4711 E AndroidRuntime: FATAL EXCEPTION: main',
    '12-31 23:59:58.120  4711  4711 E AndroidRuntime: Process: com.larkfield.guide, PID: 4711',
    '12-31 23:59:58.120  4711  4711 E AndroidRuntime: java.lang.IllegalStateException: two',
    '12-31 23:59:58.121  4820  4833 E AndroidRuntime: FATAL EXCEPTION: OkHttp Dispatcher',
    '12-31 23:59:58.121  4711  4711 E AndroidRuntime: lines',
    '12-31 23:59:58.121  4820  4833 E AndroidRuntime: Process: com.larkfield.trails, PID: 4820',
    '12-31 23:59:58.121  4711  4711 W InputDispatcher: at a.b.c(Noise.java:1)',
    '12-31 23:59:58.121  4820  4833 E AndroidRuntime: java.io.IOException',
    '12-31 23:59:58.121  4711  4711 E AndroidRuntime: \tat a.b.c(SourceFile:12)',
    '12-31 23:59:58.121  4820  4833 E AndroidRuntime: \tat d.e.f(SourceFile:8)',
    '12-31 23:59:58.121  4711  4711 E AndroidRuntime: Caused by: java.lang.NullPointerException',
    '12-31 23:59:58.121  4711  4711 E AndroidRuntime: \tat a.b.d(SourceFile:3)',
    '12-31 23:59:58.121  4711  4711 E AndroidRuntime: \t... 1 more',
  ];
  const expected = [
    { process: 'com.larkfield.guide', thread: 'main', types: ['java.lang.IllegalStateException', 'java.lang.NullPointerException'] },
    { process: 'com.larkfield.trails', thread: 'OkHttp Dispatcher', types: ['java.io.IOException'] },
  ];
  const seen = (text: string) =>
    read(text).map((crash) => ({ process: crash.process, thread: crash.threads[0]?.name, types: crash.exceptions.map((one) => one.type) }));

  it('keeps interleaved processes apart and leaves other tags out', () => {
    expect(seen(log.join('\n'))).toEqual(expected);
    expect(read(log.join('\n'))[0]?.exceptions[0]?.message).toBe('two\nlines');
  });

  it('reads the brief and time formats alike', () => {
    const brief = log.map((line) => line.replace(/^\S+ \S+ +(\d+) +\d+ ([EW]) (\w+): /, '$2/$3( $1): '));
    expect(seen(brief.join('\n'))).toEqual(expected);
    const timed = log.map((line) => line.replace(/^(\S+ \S+) +(\d+) +\d+ ([EW]) (\w+): /, '$1 $3/$4( $2): '));
    expect(seen(timed.join('\n'))).toEqual(expected);
  });

  it.each(['environment.txt', 'environment-before.txt', 'environment.json'])('reads %s of the development environment alike', (name) => {
    const told = (file: string) => {
      const found = readCrashFile(readFileSync(new URL(`../../../../samples/logcat/${file}`, import.meta.url)), {
        receivedAt: '2026-11-23T00:00:00Z',
      });
      return found.ok && found.value.map(({ process, occurredAt, exceptions }) => ({ process, occurredAt, exceptions }));
    };
    expect(told(name)).toEqual(told('two-processes.txt'));
  });

  it('takes the year that the line leaves out from the arrival', () => {
    expect(read(log.join('\n'))[0]?.occurredAt).toBe('2025-12-31T23:59:58.120Z');
  });
});
