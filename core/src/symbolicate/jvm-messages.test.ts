import { readdirSync, readFileSync } from 'node:fs';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readCrashFile } from '../report/formats/crash-file.ts';
import type { FoundReport } from '../report/formats/found-report.ts';
import type { ReportedException } from '../report/report.ts';
import { writeIndexFile } from '../symbols/index-file.ts';
import { indexMapping } from '../symbols/mapping/index-builder.ts';
import { MappingIndex } from '../symbols/mapping/lookup.ts';
import { inTime } from '../testing/in-time.ts';
import { restoreMessage } from './jvm-messages.ts';
import { noSymbols } from './symbol-source.ts';
import { symbolicate } from './symbolicate.ts';
import { onlySource } from './testing/only-source.ts';

function open(text: string | Uint8Array): MappingIndex {
  const built = indexMapping(typeof text === 'string' ? new TextEncoder().encode(text) : text);
  const opened = built.ok ? MappingIndex.open(writeIndexFile(built.value)) : built;
  if (!opened.ok) throw new Error(opened.problem.message);
  return opened.value;
}

const mapping = `com.larkfield.guide.Species -> a:
    1:1:java.lang.String name():7:7 -> a
com.larkfield.guide.NestBox -> b.c:
    java.lang.String label -> d
    1:1:void open():12:12 -> e
    2:2:void close():20:20 -> f
    3:3:void close(int):30:30 -> f
    4:4:void shut():40:40 -> f
`;

const index = open(mapping);
const plain = { type: 'java.lang.Error', frames: [] };

describe('messages of a JVM', () => {
  it.each([
    // A class with dots, alone, in an array, at the end of a sentence; nothing that only looks like one.
    ['no adapter for b.c', 'no adapter for com.larkfield.guide.NestBox'],
    ['no adapter for b.c.', 'no adapter for com.larkfield.guide.NestBox.'],
    ['stored b.c[] of 3', 'stored com.larkfield.guide.NestBox[] of 3'],
    ['see https://b.c/help and mail to me@b.c or file:b.c', 'see https://b.c/help and mail to me@b.c or file:b.c'],
    ['b.cd and x.b.c', 'b.cd and x.b.c'],
    ['b.c:443 refused', 'b.c:443 refused'],
    // "a" is a word, unless the runtime says that a class stands there.
    ['a bird is not a tree', 'a bird is not a tree'],
    ['a cannot be cast to b.c', 'com.larkfield.guide.Species cannot be cast to com.larkfield.guide.NestBox'],
    [
      'class a cannot be cast to class b.c (a and b.c are in unnamed module)',
      'class com.larkfield.guide.Species cannot be cast to class com.larkfield.guide.NestBox (com.larkfield.guide.Species and com.larkfield.guide.NestBox are in unnamed module)',
    ],
    [
      "Attempt to invoke virtual method 'java.lang.String a.a()' on a null object reference",
      "Attempt to invoke virtual method 'java.lang.String com.larkfield.guide.Species.name()' on a null object reference",
    ],
    [
      "Attempt to invoke virtual method 'void b.c.e(int, a)' on a null object reference",
      "Attempt to invoke virtual method 'void com.larkfield.guide.NestBox.open(int, com.larkfield.guide.Species)' on a null object reference",
    ],
    // One name for several methods stays.
    [
      "Attempt to invoke interface method 'void b.c.f()' on a null object reference",
      "Attempt to invoke interface method 'void com.larkfield.guide.NestBox.f()' on a null object reference",
    ],
    // ART, on Android.
    [
      "Attempt to read from field 'java.lang.String b.c.d' on a null object reference in method 'void b.c.e(int, a)'",
      "Attempt to read from field 'java.lang.String com.larkfield.guide.NestBox.label' on a null object reference in method 'void com.larkfield.guide.NestBox.open(int, com.larkfield.guide.Species)'",
    ],
    [
      'a cannot be stored in an array of type b.c[]',
      'com.larkfield.guide.Species cannot be stored in an array of type com.larkfield.guide.NestBox[]',
    ],
    [
      "No virtual method a()Ljava/lang/String; in class La; or its super classes (declaration of 'a' appears in /data/app/base.apk)",
      "No virtual method name()Ljava/lang/String; in class Lcom/larkfield/guide/Species; or its super classes (declaration of 'com.larkfield.guide.Species' appears in /data/app/base.apk)",
    ],
    [
      "No field d of type Ljava/lang/String; in class Lb/c; or its superclasses (declaration of 'b.c' appears in base.apk)",
      "No field label of type Ljava/lang/String; in class Lcom/larkfield/guide/NestBox; or its superclasses (declaration of 'com.larkfield.guide.NestBox' appears in base.apk)",
    ],
    ['Failed resolution of: Lb/c;', 'Failed resolution of: Lcom/larkfield/guide/NestBox;'],
    [
      'Verifier rejected class a: java.lang.String a.a() failed to verify: java.lang.String a.a(): [0x3] bad',
      'Verifier rejected class com.larkfield.guide.Species: java.lang.String com.larkfield.guide.Species.name() failed to verify: java.lang.String com.larkfield.guide.Species.name(): [0x3] bad',
    ],
    ['abstract method "java.lang.String a.a()"', 'abstract method "java.lang.String com.larkfield.guide.Species.name()"'],
    [
      'java.lang.Class<a> has no zero argument constructor',
      'java.lang.Class<com.larkfield.guide.Species> has no zero argument constructor',
    ],
    [
      "Method 'void b.c.g()' is inaccessible to class 'a'",
      "Method 'void com.larkfield.guide.NestBox.g()' is inaccessible to class 'com.larkfield.guide.Species'",
    ],
    // Kotlin's own checks, older machines, and what any object prints of itself.
    [
      'Parameter specified as non-null is null: method b.c.e, parameter perch',
      'Parameter specified as non-null is null: method com.larkfield.guide.NestBox.open, parameter perch',
    ],
    ['null cannot be cast to non-null type a', 'null cannot be cast to non-null type com.larkfield.guide.Species'],
    ['[La; cannot be cast to [Lb.c;', '[Lcom.larkfield.guide.Species; cannot be cast to [Lcom.larkfield.guide.NestBox;'],
    [
      'tried to access method b.c.g()V from class a',
      'tried to access method com.larkfield.guide.NestBox.g()V from class com.larkfield.guide.Species',
    ],
    [
      'fragment a@1f2e3d is not attached to b.c@7',
      'fragment com.larkfield.guide.Species@1f2e3d is not attached to com.larkfield.guide.NestBox@7',
    ],
    ['write to a@1f2e.example and b.c@example', 'write to a@1f2e.example and b.c@example'],
  ])('%s', (message, restored) => {
    expect(restoreMessage({ ...plain, message }, index)).toBe(restored);
  });

  it('that repeat the header of their cause have its class restored, even a single letter', () => {
    const species: ReportedException = { ...plain, type: 'a', message: null, relation: 'cause', parent: 0, framesInCommon: 0, stack: null };
    const restore = (message: string) => restoreMessage({ ...plain, message }, index, [species]);
    expect(restore('a: a was here')).toBe('com.larkfield.guide.Species: a was here');
    expect(restore('a')).toBe('com.larkfield.guide.Species');
    expect(restore('a bird')).toBe('a bird');
  });

  it('are a class and nothing else where the exception is about one', () => {
    expect(restoreMessage({ ...plain, type: 'java.lang.ArrayStoreException', message: 'a' }, index)).toBe('com.larkfield.guide.Species');
    expect(restoreMessage({ ...plain, type: 'java.lang.IllegalStateException', message: 'a' }, index)).toBe('a');
  });

  it('are read in bounded time, whatever they hold', () => {
    const piece = fc.constantFrom(
      'a',
      'b.c',
      'La;',
      "'",
      '"',
      'class ',
      ' cannot be cast to ',
      '(',
      ')',
      '[',
      '.',
      '<parameter1>',
      'this.',
      'because "',
      ' is null',
      '@1f',
      '/',
      'Cannot invoke "',
      '\nException Details:\n',
    );
    inTime(() =>
      fc.assert(
        fc.property(fc.array(piece, { maxLength: 400 }), (pieces) => void restoreMessage({ ...plain, message: pieces.join('') }, index)),
        { numRuns: 300 },
      ),
    );
    inTime(() => restoreMessage({ ...plain, message: 'Verifier rejected class a: '.repeat(700) }, index));
  });
});

describe('what a virtual machine said of the obfuscated program', () => {
  const samples = new URL('../../samples/jvm-messages/', import.meta.url);
  const index = open(readFileSync(new URL('ringing.mapping', samples)));
  const stories = readdirSync(samples).flatMap((file) => /^(.*)\.plain$/.exec(file)?.[1] ?? []);
  const read = (file: string): FoundReport => {
    const found = readCrashFile(new Uint8Array(readFileSync(new URL(file, samples))), { receivedAt: '2026-01-01T00:00:00Z' });
    if (!found.ok || found.value.length !== 1) throw new Error(`${file} holds no single report`);
    return found.value[0] as FoundReport;
  };
  /** The type of a variable of the method itself stands in no mapping; neither does whose field it is that is missing. */
  const beyond: Readonly<Record<string, string>> = {
    'array-length': '"<local1>.f"',
    'array-load': '"<local1>.f"',
    'array-store': '"<local1>.g[1]"',
    'invoke-on-array': '"<local1>.e[1]"',
    'invoke-on-chain': 'Cannot read field "a" because "<local1>.d.a"',
    'no-such-field': 'b',
    'read-field': 'Cannot read field "a" because "<local1>.d.b"',
    'throw-null': '"<local1>.h"',
    'write-field': 'Cannot assign field "a" because "<local1>.d.b"',
  };

  /** The verifier prints the bytes of the code, which an obfuscator numbers anew. */
  const withoutCode = (message: string | null | undefined) => message?.replace(/( {4}\d{7}:)[ 0-9a-f]+/g, '$1');

  it.each(stories)('%s is what it said of the plain one', (story) => {
    const obfuscated = read(`${story}.txt`);
    const plain = read(`${story}.plain`);
    const readable = symbolicate(obfuscated, onlySource('mapping', index), { ours: [] });
    const named = ({ exceptions }: Pick<typeof readable, 'exceptions'>) =>
      exceptions.map(({ type, frames }) => ({ type, frames: frames.map((frame) => `${frame.function}:${frame.line}`) }));
    expect(named(readable)).toEqual(named(symbolicate(plain, noSymbols, { ours: [] })));
    for (const [at, { message }] of readable.exceptions.entries()) {
      const left = beyond[story];
      if (left !== undefined) expect(message).toContain(left);
      else expect(withoutCode(message)).toBe(withoutCode(plain.exceptions[at]?.message));
    }
  });
});
