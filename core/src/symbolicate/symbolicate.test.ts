import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { guideBuilds } from '../../../demo/src/guide-builds.ts';
import { readCrashFile } from '../report/formats/crash-file.ts';
import { writeIndexFile } from '../symbols/index-file.ts';
import { indexMapping } from '../symbols/mapping/index-builder.ts';
import { MappingIndex } from '../symbols/mapping/lookup.ts';
import { noSymbols } from './symbol-source.ts';
import { symbolicate } from './symbolicate.ts';
import { onlySource } from './testing/only-source.ts';

const file = (path: string) => readFileSync(new URL(`../../../demo/larkfield-guide/builds/${path}`, import.meta.url));
const rule = { ours: ['com.larkfield'] };

function openMapping(bytes: Uint8Array): MappingIndex {
  const indexed = indexMapping(bytes);
  if (!indexed.ok) throw new Error(indexed.problem.message);
  const opened = MappingIndex.open(writeIndexFile(indexed.value));
  if (!opened.ok) throw new Error(opened.problem.message);
  return opened.value;
}

function crash(text: Uint8Array) {
  const read = readCrashFile(text, { receivedAt: '2026-01-01T00:00:00Z' });
  if (!read.ok) throw new Error(read.problem.message);
  return read.value[0] as (typeof read.value)[0];
}

const symbolicateText = (text: string, mapping: string | null, build = rule) => {
  const index = mapping === null ? null : openMapping(new TextEncoder().encode(mapping));
  return symbolicate(crash(new TextEncoder().encode(text)), onlySource('mapping', index), build);
};

describe.each(guideBuilds)('Larkfield Guide $version, obfuscated', ({ version, screens }) => {
  const mapping = openMapping(file(`${version}/mapping.txt`));

  it.each(screens)('shows the crash of screen %s as the plain program prints it', (screen) => {
    const restored = symbolicate(crash(file(`${version}/crashes/${screen}.txt`)), onlySource('mapping', mapping), rule);
    // The plain program ran on its own, so what it printed is the truth, not our output.
    const expected = crash(file(`${version}/expected/${screen}.txt`));
    const seen = restored.exceptions.map(({ type, message, frames }) => ({
      type,
      message,
      frames: frames.map((frame) => `${frame.function}(${frame.file}:${frame.line})`),
    }));
    expect(seen).toEqual(
      expected.exceptions.map(({ type, message, frames }) => ({
        type,
        message,
        frames: frames.map((frame) => (frame.runtime === 'jvm' ? `${frame.class}.${frame.method}(${frame.file}:${frame.line})` : '')),
      })),
    );
    expect(restored.needs).toMatchObject([{ kind: 'mapping', symbolId: null, name: null, found: true, frames: { uncovered: 0 } }]);
  });

  it.each(screens)('says of screen %s that the mapping is missing, without touching a frame', (screen) => {
    const raw = crash(file(`${version}/crashes/${screen}.txt`));
    const restored = symbolicate(raw, noSymbols, rule);
    expect(restored.needs).toEqual([{ kind: 'mapping', symbolId: null, name: null, found: false }]);
    const frames = restored.exceptions.flatMap((exception) => exception.frames);
    expect(frames).toHaveLength(raw.exceptions.flatMap((exception) => exception.frames).length);
    expect(frames.some((frame) => frame.status === 'no-symbols' && frame.ours)).toBe(true);
  });
});

describe('a mapping', () => {
  const frames = (text: string, mapping: string | null) =>
    symbolicateText(text, mapping).exceptions[0]?.frames.map((frame) => `${frame.function}(${frame.file}:${frame.line}) ${frame.status}`);
  const thrown = (...stack: string[]) => `Exception in thread "main" a.E: x\n${stack.map((frame) => `\tat ${frame}\n`).join('')}`;

  it('marks inlined calls and keeps the raw frame with each', () => {
    const restored = symbolicateText(
      thrown('a.b.c(SourceFile:3)'),
      'com.larkfield.Outer -> a.b:\n    3:3:int com.larkfield.text.Inner.deep():40:40 -> c\n    3:3:void work():12 -> c\n',
    );
    expect(restored.exceptions[0]?.frames).toMatchObject([
      { function: 'com.larkfield.text.Inner.deep', file: 'Inner.java', line: 40, inlined: true, raw: 'a.b.c(SourceFile:3)', rawIndex: 0 },
      { function: 'com.larkfield.Outer.work', file: 'Outer.java', line: 12, inlined: false, raw: 'a.b.c(SourceFile:3)', rawIndex: 0 },
    ]);
  });

  it('gives all overloads when the frame has no line', () => {
    const restored = symbolicateText(
      thrown('a.c(Unknown Source)'),
      'com.larkfield.A -> a:\n    void one(int) -> c\n    void two(long) -> c\n',
    );
    expect(restored.exceptions[0]?.frames[0]).toMatchObject({
      function: 'com.larkfield.A.one',
      status: 'ambiguous',
      alternatives: ['com.larkfield.A.two'],
    });
  });

  it('names the method of a line outside every range, and says that it is not covered', () => {
    expect(frames(thrown('a.c(SourceFile:99)'), 'com.larkfield.A -> a:\n    1:3:void one():10:12 -> c\n')).toEqual([
      'com.larkfield.A.one(A.java:null) not-covered',
    ]);
  });

  it('takes source file records of R8, nested classes and Kotlin facades by their files', () => {
    const mapping = [
      '# compiler: R8',
      '# {"id":"com.android.tools.r8.mapping","version":"2.2"}',
      'com.larkfield.Walk -> a:',
      '# {"id":"sourceFile","fileName":"Walks.kt"}',
      '    1:1:void go():7:7 -> b',
      'com.larkfield.Pond$Edge -> c:',
      '    1:1:void go():8:8 -> b',
      'com.larkfield.StringsKt -> d:',
      '    1:1:void go():9:9 -> b',
    ].join('\n');
    expect(frames(thrown('a.b(SourceFile:1)', 'c.b(SourceFile:1)', 'd.b(SourceFile:1)'), mapping)).toEqual([
      'com.larkfield.Walk.go(Walks.kt:7) resolved',
      'com.larkfield.Pond$Edge.go(Pond.java:8) resolved',
      'com.larkfield.StringsKt.go(Strings.kt:9) resolved',
    ]);
  });

  it('leaves out frames that the compiler made', () => {
    const mapping =
      'com.larkfield.A -> a:\n    1:1:void go():7:7 -> b\n    1:1:void bridge():3 -> b\n      # {"id":"com.android.tools.r8.synthesized"}\n';
    expect(frames(thrown('a.b(SourceFile:1)'), mapping)).toEqual(['com.larkfield.A.go(A.java:7) resolved']);
  });

  it('keeps a printed file name over a guessed one', () => {
    expect(frames(thrown('a.b(Walks.kt:1)'), 'com.larkfield.Walk -> a:\n    1:1:void go():7:7 -> b\n')).toEqual([
      'com.larkfield.Walk.go(Walks.kt:7) resolved',
    ]);
  });

  it('restores a cause named in the message of what it caused, and nothing else of a message', () => {
    const text =
      'Exception in thread "main" java.lang.RuntimeException: a: a was here\n\tat a.b(SourceFile:1)\nCaused by: a: a was here\n\tat a.b(SourceFile:1)\n';
    const restored = symbolicateText(text, 'com.larkfield.Lost -> a:\n    1:1:void go():7:7 -> b\n');
    expect(restored.exceptions.map(({ type, message }) => `${type}|${message}`)).toEqual([
      'java.lang.RuntimeException|com.larkfield.Lost: a was here',
      'com.larkfield.Lost|a was here',
    ]);
  });

  it('is asked for by the map id that a frame prints', () => {
    const asked: (string | null)[] = [];
    const restored = symbolicate(
      crash(new TextEncoder().encode(thrown('a.b(r8-map-id-4f1a09:1)'))),
      onlySource('mapping', ({ symbolId }) => {
        asked.push(symbolId);
        return null;
      }),
      rule,
    );
    expect(asked).toContain('4f1a09');
    expect(restored.needs).toEqual([{ kind: 'mapping', symbolId: '4f1a09', name: null, found: false }]);
  });

  it('is not missed by a build that was never obfuscated', () => {
    const restored = symbolicateText(
      thrown('com.larkfield.A.b(A.kt:1)', 'com.larkfield.A$$Lambda$3.run(Unknown Source)', 'java.lang.Thread.run(Thread.java:9)'),
      null,
    );
    expect(restored.needs).toEqual([]);
    expect(restored.exceptions[0]?.frames.map(({ ours, status }) => `${ours} ${status}`)).toEqual([
      'true as-written',
      'true as-written',
      'false as-written',
    ]);
  });
});

describe('a stack through an outline', () => {
  const mapping = new TextEncoder().encode(`com.larkfield.guide.Shared -> a:
    1:2:int outline() -> a
# {"id":"com.android.tools.r8.outline"}
com.larkfield.guide.NightMap -> b:
    4:4:java.lang.Object java.util.Objects.requireNonNull(java.lang.Object):23:23 -> s
    4:4:int tile(int):23 -> s
# {"id":"com.android.tools.r8.rewriteFrame","conditions":["throws(Ljava/lang/NullPointerException;)"],"actions":["removeInnerFrames(1)"]}
    27:27:int tile(int):0:0 -> s
# {"id":"com.android.tools.r8.outlineCallsite","positions":{"1":4},"outline":"La;a()I"}
`);
  const restore = (text: string) => {
    const indexed = indexMapping(mapping);
    const opened = indexed.ok ? MappingIndex.open(writeIndexFile(indexed.value)) : null;
    const index = opened?.ok ? opened.value : null;
    const readable = symbolicate(crash(new TextEncoder().encode(text)), onlySource('mapping', index), { ours: [] });
    return readable.exceptions[0]?.frames.map((frame) => `${frame.function}:${frame.line}`);
  };

  it('shows the caller at the line that the outline stood for, and rewrites only the frame that threw', () => {
    const below = '\tat b.s(SourceFile:27)\n';
    expect(restore(`java.lang.IllegalStateException: x\n\tat a.a(SourceFile:1)\n${below}`)).toEqual([
      'java.util.Objects.requireNonNull:23',
      'com.larkfield.guide.NightMap.tile:23',
    ]);
    expect(restore('java.lang.NullPointerException: x\n\tat b.s(SourceFile:4)\n')).toEqual(['com.larkfield.guide.NightMap.tile:23']);
    expect(restore('java.lang.NullPointerException: x\n\tat c.d(SourceFile:4)\n\tat b.s(SourceFile:4)\n')?.slice(1)).toEqual([
      'java.util.Objects.requireNonNull:23',
      'com.larkfield.guide.NightMap.tile:23',
    ]);
  });
});
