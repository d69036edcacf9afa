import { readdirSync, readFileSync } from 'node:fs';
import { gunzipSync } from 'node:zlib';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { sourceOf } from './bytes/byte-source.ts';
import { bareContext, groupReport } from './grouping/group-report.ts';
import { readCrashFile } from './report/formats/crash-file.ts';
import { reportSchema } from './report/report.ts';
import { noSymbols } from './symbolicate/symbol-source.ts';
import { symbolicate } from './symbolicate/symbolicate.ts';
import { onlySource } from './symbolicate/testing/only-source.ts';
import { writeIndexFile } from './symbols/index-file.ts';
import { indexSymbolFile } from './symbols/index-symbol-file.ts';
import { indexMapping } from './symbols/mapping/index-builder.ts';
import { MappingIndex } from './symbols/mapping/lookup.ts';
import { inTime } from './testing/in-time.ts';

const builds = new URL('../../demo/larkfield-guide/builds/', import.meta.url);
const samples = new URL('../samples/', import.meta.url);
const filesIn = (folder: URL, kept: RegExp) =>
  readdirSync(folder, { recursive: true, encoding: 'utf8' })
    .filter((name) => kept.test(name))
    .map((name) => new Uint8Array(readFileSync(new URL(name, folder))));
const crashes = filesIn(builds, /crashes\/.*\.txt$/).filter((_, index) => index % 3 === 0);
const unpacked = (path: string) => JSON.parse(gunzipSync(readFileSync(new URL(path, samples))).toString('utf8'));
/** Texts that were recorded together with what they really are. */
const recorded = [
  ...unpacked('jvm-headers/headers.json.gz').map(({ thrown }: { thrown: string }) => thrown),
  ...unpacked('javascript-inspected/inspected.json.gz').map(({ text }: { text: string }) => text),
  ...unpacked('component-stacks/recorded.json.gz').map(
    ({ stack, componentStack }: Record<string, string>) => `${stack}\n${componentStack}`,
  ),
].map((text) => new TextEncoder().encode(text));
const crashFiles = [...crashes, ...recorded, ...filesIn(samples, /\/.*\.(txt|ips|crash|json|pb)$/)];

/** How many mutated files are read; `npm run test:hostile` asks for a hundred thousand. */
const runs = Number(process.env.EMBER_HOSTILE_RUNS ?? 4_000);
const mappings = filesIn(builds, /mapping\.txt$/);

const nestedLists = '['.repeat(100_000) + ']'.repeat(100_000);

/** A real file with bytes changed, cut out, doubled, or filled with what the formats are made of. */
const mutated = (originals: readonly Uint8Array[]): fc.Arbitrary<Uint8Array> => {
  const tokens = [
    '\n',
    '\t',
    '\r',
    ': ',
    ' -> ',
    ':',
    '(',
    ')',
    '.',
    '/',
    '$',
    '...',
    'at ',
    'Caused by: ',
    'Suppressed: ',
    '... 9 more',
    '"',
    '{',
    '\u0000',
    '\uffff',
    '9'.repeat(30),
    '@',
    '#00 pc ',
    ' ---> ',
    '[cause]: ',
    '[errors]: [',
    'at async ',
    'Thread 0 Crashed:',
    'pid: 1, tid: 1, name: a  >>> b <<<',
    '0xffffffffffffffff',
    '[[[[',
    '{"a":',
    '\u0012\u00ff\u00ff\u00ff\u007f',
    ' '.repeat(500),
  ];
  const edit = fc.record({
    at: fc.double({ min: 0, max: 1, noNaN: true }),
    length: fc.nat(80),
    how: fc.constantFrom('cut', 'double', 'insert', 'flip', 'end'),
    token: fc.constantFrom(...tokens),
    byte: fc.nat(255),
  });
  return fc.tuple(fc.constantFrom(...originals), fc.array(edit, { minLength: 1, maxLength: 8 })).map(([original, edits]) => {
    let now = Array.from(original);
    for (const { at, length, how, token, byte } of edits) {
      const from = Math.floor(at * now.length);
      if (how === 'cut') now.splice(from, length);
      else if (how === 'double') now.splice(from, 0, ...now.slice(from, from + length));
      else if (how === 'insert') now.splice(from, 0, ...new TextEncoder().encode(token));
      else if (how === 'flip') now[from] = byte;
      else now = now.slice(0, from);
    }
    return Uint8Array.from(now);
  });
};

describe('hostile input', () => {
  it(
    'of crash files gives reports that keep to the limits, or a problem in words',
    () => {
      fc.assert(
        fc.property(mutated(crashFiles), (file) => {
          const result = inTime(() => readCrashFile(file, { receivedAt: '2026-01-01T00:00:00Z' }));
          if (!result.ok) expect(result.problem.message).not.toBe('');
          else
            for (const { format: _format, process: _process, notes: _notes, ...found } of result.value) {
              const about = { id: '0192d3a4-5b6c-4d7e-8f90-a1b2c3d4e5f6', occurredAt: '2026-01-01T00:00:00Z', version: '1', build: '1' };
              const problems = reportSchema.safeParse({ ...found, ...about }).error?.issues ?? [];
              expect(problems.slice(0, 2)).toEqual([]);
            }
        }),
        { numRuns: runs },
      );
      // Not the patience with one file, but with all of them.
    },
    runs * 20,
  );

  it('of mappings gives an index that answers, or a problem in words', () => {
    const crash = readCrashFile(crashes[0] as Uint8Array, { receivedAt: '2026-01-01T00:00:00Z' });
    if (!crash.ok) throw new Error(crash.problem.message);
    fc.assert(
      fc.property(mutated(mappings), (file) => {
        const indexed = inTime(() => indexMapping(file));
        if (!indexed.ok) {
          expect(indexed.problem.message).not.toBe('');
          return;
        }
        const opened = MappingIndex.open(writeIndexFile(indexed.value));
        if (!opened.ok) throw new Error(opened.problem.message);
        const readable = symbolicate(crash.value[0] as never, onlySource('mapping', opened.value), { ours: [] });
        expect(groupReport(bareContext('crash'), readable).key).not.toBe('');
      }),
      { numRuns: 600 },
    );
  });

  it.each([
    ['a source map', `{"version":${nestedLists}}`],
    ['names of a source map', `{"version":3,"mappings":"AAAA","sources":["a.js"],"names":[${nestedLists}]}`],
    [
      'sections of a source map',
      `${'{"version":3,"sections":[{"offset":{"line":0,"column":0},"map":'.repeat(20_000)}1${'}]}'.repeat(20_000)}`,
    ],
    ['an obfuscation map', `["a",${nestedLists}]`],
    ['records of a mapping', `a.B -> b:\n# {"id":"com.android.tools.r8.outlineCallsite","positions":${nestedLists}}`],
  ])('%s of lists within lists is read or is a problem', async (_, text) => {
    const indexed = await inTime(() => indexSymbolFile(sourceOf(new TextEncoder().encode(text)), { fileName: 'app' }));
    expect(indexed.ok || indexed.problem.message !== '').toBe(true);
  });

  it.each([
    ['one endless line', 'a'.repeat(2_000_000)],
    ['colons', ':'.repeat(500_000)],
    ['spaces', `${' '.repeat(200_000)}at`],
    ['log prefixes without an end', `11-23 07:07:51.123  1  1 E ${' '.repeat(15_000)}\n`.repeat(40)],
    ['nested suppressed exceptions', Array.from({ length: 3_000 }, (_, depth) => `${'\t'.repeat(depth)}Suppressed: a.B: c`).join('\n')],
    ['a chain of causes without end', `Exception in thread "main" a.B: c\n${'\tat a.b.c(D.java:1)\nCaused by: a.B: c\n'.repeat(20_000)}`],
    [
      'omitted frames that multiply',
      `Exception in thread "main" a.B\n${'\tat a.b.c(D.java:1)\n'.repeat(1_900)}${'Caused by: a.B\n\t... 999999 more\n'.repeat(60)}`,
    ],
    ['component stacks', `The above error occurred in the <A> component:\n${'    in A (created by B)\n'.repeat(100_000)}`],
    ['causes of causes', `Error: a\n    at f (a.js:1:1) {\n${'  [cause]: Error: a\n    at f (a.js:1:1) {\n'.repeat(20_000)}`],
    ['inner exceptions', `Unhandled exception. ${'a.BException: c ---> '.repeat(50_000)}a.B: c\n   at A.B.C() in a.cs:line 1`],
    ['at signs', '@'.repeat(300_000)],
    ['brackets', `at ${'('.repeat(100_000)}${')'.repeat(100_000)}`],
    ['JSON without an end', '{"a":'.repeat(200_000)],
    ['an .ips file of lists within lists', `{"bug_type":"309"}\n{"threads":[],"further":${nestedLists}}`],
    ['a memory-kill event of lists within lists', `{"processes":[{"name":"a","reason":"b"}],"further":${nestedLists}}`],
    ['a MetricKit payload of lists within lists', `{"crashDiagnostics":[{"diagnosticMetaData":{"further":${nestedLists}}}]}`],
    [
      'a MetricKit stack without end',
      `{"crashDiagnostics":[{"callStackTree":{"callStacks":[{"callStackRootFrames":[${'{"subFrames":['.repeat(100_000)}${']}'.repeat(100_000)}]}]}}]}`,
    ],
    [
      'threads of a dump',
      `----- pid 1 at 2026-01-01 00:00:00 -----\n${'"main" prio=5 tid=1 Blocked\n  at a.b.c(D.java:1)\n'.repeat(100_000)}`,
    ],
    [
      'tombstone frames',
      `pid: 1, tid: 1, name: a  >>> b <<<\nsignal 11 (SIGSEGV), code 1 (SEGV_MAPERR)\n${'    #00 pc 0001  /a/b.so (f+1)\n'.repeat(200_000)}`,
    ],
    [
      'images of a report',
      `Process: a\nThread 0 Crashed:\n${'0   a 0x1 b + 1\n'.repeat(3_000)}\nBinary Images:\n${'0x1 - 0x2 a arm64 <70b89f2716343580a69557cdb41d7743> /a\n'.repeat(20_000)}`,
    ],
    [
      'log lines of many processes',
      Array.from({ length: 100_000 }, (_, pid) => `11-23 07:07:51.123  ${pid}  1 E AndroidRuntime: FATAL EXCEPTION: main`).join('\n'),
    ],
    ['exit records', 'ApplicationExitInfo(reason=3 (LOW_MEMORY) '.repeat(50_000)],
    ['quotes in a message', `Exception in thread "main" a.B: ${'"\''.repeat(5_000)}\n\tat a.b.c(D.java:1)`],
  ])('of %s is read in bounded time', (_, text) => {
    const result = inTime(() => readCrashFile(new TextEncoder().encode(text), { receivedAt: '2026-01-01T00:00:00Z' }));
    if (result.ok)
      for (const crash of result.value) {
        const readable = inTime(() => symbolicate(crash, noSymbols, { ours: [] }));
        expect(inTime(() => groupReport(bareContext('crash'), readable)).key).not.toBe('');
        expect(crash.exceptions.length).toBeLessThanOrEqual(64);
        expect(crash.exceptions.reduce((sum, one) => sum + one.frames.length, 0)).toBeLessThanOrEqual(20_000);
      }
  });
});

describe('long texts of one thing over and over', () => {
  const times = 20_000;
  it.each([
    ['quotation marks', `Exception in thread "${'a" '.repeat(times)}`],
    ['talk between frames of the JVM', `java.lang.E: x\n${'noise here\n\tat a.b.c(D.java:1)\n'.repeat(times)}`],
    ['talk between frames of a script', `Error: x\n${'noise here\n    at a (b.js:1:2)\n'.repeat(times)}`],
    ['components', '    at View\n'.repeat(times)],
    ['components and frames', `Error: x\n${'    at View\n    at a (b.js:1:2)\n'.repeat(times)}`],
    ['headings', 'This error is located at:\n'.repeat(times)],
    ['colons', `${'x: '.repeat(times)}\n    at a (b.js:1:2)`],
    ['causes', `java.lang.E: x\n${'Caused by: a.b.C: x\n'.repeat(times)}`],
    ['lists of errors', `Error: x\n    at a (b.js:1:2) {\n${'  [errors]: [\n'.repeat(times)}`],
    ['payloads', `[${'{"crashDiagnostics":[{}]},'.repeat(times)}{}]`],
    ['continued lines of a log', `2026-11-20 10:11:12.100  1-2  AndroidRuntime   com.x   E  FATAL EXCEPTION: main\n${' \n'.repeat(times)}`],
  ])('%s', (_, text) => {
    const found = inTime(() => readCrashFile(new TextEncoder().encode(text), { receivedAt: '2026-01-01T00:00:00Z' }));
    expect(found.ok ? found.value.length : 0).toBeLessThanOrEqual(200);
  });
});
