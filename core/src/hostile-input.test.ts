import { readdirSync, readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { groupManaged } from './grouping/group-managed.ts';
import { readCrashText } from './report/crash-text.ts';
import { reportSchema } from './report/report.ts';
import { symbolicate } from './symbolicate/symbolicate.ts';
import { indexMapping } from './symbols/mapping/index-builder.ts';
import { MappingIndex } from './symbols/mapping/lookup.ts';

const builds = new URL('../../demo/larkfield-guide/builds/', import.meta.url);
const files = readdirSync(builds, { recursive: true, encoding: 'utf8' }).filter((name) => name.endsWith('.txt'));
const read = (name: string) => new Uint8Array(readFileSync(new URL(name, builds)));
const logcat = (text: Uint8Array) =>
  new TextEncoder().encode(
    new TextDecoder()
      .decode(text)
      .replace(/^Exception in thread "(.*?)" /, 'FATAL EXCEPTION: $1\nProcess: com.larkfield.guide, PID: 4711\n')
      .replace(/^/gm, '11-23 07:07:51.123  4711  4711 E AndroidRuntime: '),
  );
const crashes = files.filter((name) => name.includes('crashes')).flatMap((name) => [read(name), logcat(read(name))]);
const mappings = files.filter((name) => name.endsWith('mapping.txt')).map(read);

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

/** Longest a reader may take for one small file, in milliseconds; a pattern that backtracks takes far longer. */
const patienceMs = 2_000;
const inTime = <Value>(run: () => Value): Value => {
  const began = performance.now();
  const value = run();
  expect(performance.now() - began).toBeLessThan(patienceMs);
  return value;
};

describe('hostile input', () => {
  it('of crash texts gives reports that keep to the limits, or a problem in words', () => {
    fc.assert(
      fc.property(mutated(crashes), (text) => {
        const result = inTime(() => readCrashText(text, { receivedAt: '2026-01-01T00:00:00Z' }));
        if (!result.ok) expect(result.problem.message).not.toBe('');
        else
          for (const crash of result.value) {
            const about = {
              id: '0192d3a4-5b6c-4d7e-8f90-a1b2c3d4e5f6',
              kind: 'crash',
              occurredAt: '2026-01-01T00:00:00Z',
              version: '1',
              build: '1',
            };
            expect(reportSchema.safeParse({ ...about, exceptions: crash.exceptions, threads: crash.threads }).error).toBeUndefined();
          }
      }),
      { numRuns: 1_500 },
    );
  });

  it('of mappings gives an index that answers, or a problem in words', () => {
    const crash = readCrashText(crashes[0] as Uint8Array, { receivedAt: '2026-01-01T00:00:00Z' });
    if (!crash.ok) throw new Error(crash.problem.message);
    fc.assert(
      fc.property(mutated(mappings), (file) => {
        const indexed = inTime(() => indexMapping(file));
        if (!indexed.ok) {
          expect(indexed.problem.message).not.toBe('');
          return;
        }
        const opened = MappingIndex.open(indexed.value.index);
        if (!opened.ok) throw new Error(opened.problem.message);
        const readable = symbolicate(crash.value[0] as never, { mapping: () => opened.value }, { ours: [] });
        expect(groupManaged('crash', readable, '1').key).not.toBe('');
      }),
      { numRuns: 600 },
    );
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
    ['quotes in a message', `Exception in thread "main" a.B: ${'"\''.repeat(5_000)}\n\tat a.b.c(D.java:1)`],
  ])('of %s is read in bounded time', (_, text) => {
    const result = inTime(() => readCrashText(new TextEncoder().encode(text), { receivedAt: '2026-01-01T00:00:00Z' }));
    if (result.ok)
      for (const crash of result.value) {
        const readable = inTime(() => symbolicate(crash, { mapping: () => null }, { ours: [] }));
        expect(inTime(() => groupManaged('crash', readable, '1')).key).not.toBe('');
        expect(crash.exceptions.length).toBeLessThanOrEqual(64);
        expect(crash.exceptions.reduce((sum, one) => sum + one.frames.length, 0)).toBeLessThanOrEqual(20_000);
      }
  });
});
