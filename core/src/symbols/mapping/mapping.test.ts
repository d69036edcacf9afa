import { describe, expect, it } from 'vitest';
import { openIndexFile, writeIndexFile } from '../index-file.ts';
import { detectMapping } from './detect.ts';
import { indexMapping, MappingIndexBuilder } from './index-builder.ts';
import { MappingIndex } from './lookup.ts';
import { parseMappingLine } from './parse.ts';

const bytes = (text: string) => new TextEncoder().encode(text);

function open(...lines: string[]): MappingIndex {
  const indexed = indexMapping(bytes(lines.join('\n')));
  if (!indexed.ok) throw new Error(indexed.problem.message);
  const opened = MappingIndex.open(writeIndexFile(indexed.value));
  if (!opened.ok) throw new Error(opened.problem.message);
  return opened.value;
}

/** What a lookup gives, each alternative as `Class.method:line < Class.method:line`, innermost first. */
function retrace(index: MappingIndex, className: string, method: string, line: number | null): string[] {
  const match = index.retrace(className, method, line);
  if (match.state !== 'found') return [match.state];
  return match.alternatives.map((chain) => chain.map((frame) => `${frame.class}.${frame.method}:${frame.line}`).join(' < '));
}

describe('a mapping line', () => {
  it.each([
    ['com.x.A -> a.b:', { type: 'class', original: 'com.x.A', obfuscated: 'a.b' }],
    ['    int count -> a', { type: 'field', field: { obfuscated: 'a', originalName: 'count', fieldType: 'int' } }],
    ['    com.x.B[] com.x.C.all -> b', { type: 'field', field: { obfuscated: 'b', originalName: 'all', fieldType: 'com.x.B[]' } }],
    ['# compiler: R8', { type: 'comment', text: 'compiler: R8' }],
    ['      # {"id":"x"}', { type: 'comment', text: '{"id":"x"}' }],
    ['  \r', { type: 'blank' }],
  ])('%j is read', (line, parsed) => expect(parseMappingLine(line)).toEqual(parsed));

  it.each([
    ['    void a() -> b', { range: null, originalName: 'a', parameters: '', originalStart: null, originalEnd: null }],
    ['    3:5:int[] a(int,java.lang.String[]) -> b', { range: { start: 3, end: 5 }, parameters: 'int,java.lang.String[]' }],
    ['    3:5:void com.x.B.a():7 -> b', { originalClass: 'com.x.B', originalName: 'a', originalStart: 7, originalEnd: null }],
    ['    3:5:void com.x.B.<init>():7:9 -> <init>', { obfuscated: '<init>', originalName: '<init>', originalStart: 7, originalEnd: 9 }],
    ['    void a(java.util.Map):12:13 -> b\r', { range: null, originalStart: 12, originalEnd: 13, obfuscated: 'b' }],
  ])('%j is a method', (line, method) => expect(parseMappingLine(line)).toMatchObject({ type: 'method', method }));

  it.each([
    'com.x.A -> a.b',
    'com.x.A a.b:',
    ' -> ',
    '    -> a',
    '    void -> a',
    '    3:void a() -> b',
    '    99999999999:5:void a() -> b',
    '    void a( -> b',
    '    void a()7 -> b',
    '    void a():x -> b',
    '    1:2:int field -> b',
    'two words -> a:',
  ])('%j is none', (line) => expect(parseMappingLine(line)).toEqual({ type: 'unknown' }));
});

describe('a lookup', () => {
  const index = open(
    'com.x.Outer -> a:',
    '    1:3:void plain():10:12 -> m',
    '    4:4:int com.x.Inner.deep(int):40:40 -> m',
    '    4:4:void com.x.Middle.call():30 -> m',
    '    4:4:void outer():20 -> m',
    '    5:9:void unshifted() -> m',
    '    void one(int) -> n',
    '    void two(java.lang.String) -> n',
    '    6:6:void <init>() -> <init>',
    '    6:6:void <init>(int) -> <init>',
    '    0:0:void pinned():77 -> p',
    '    0:65535:void spread():5:5 -> q',
    '    10:20:void shrunk():3:3 -> r',
    'com.x.Empty -> b:',
  );

  it.each([
    ['a shifted line', 'm', 2, ['com.x.Outer.plain:11']],
    ['an inlined stack, innermost first', 'm', 4, ['com.x.Inner.deep:40 < com.x.Middle.call:30 < com.x.Outer.outer:20']],
    ['a range without original lines', 'm', 7, ['com.x.Outer.unshifted:7']],
    ['overloads without ranges', 'n', 3, ['com.x.Outer.one:3', 'com.x.Outer.two:3']],
    ['overloads on one line, which are no inlined call', '<init>', 6, ['com.x.Outer.<init>:6', 'com.x.Outer.<init>:6']],
    ['a range of 0:0, which covers every line', 'p', 3, ['com.x.Outer.pinned:77']],
    ['a range of 0:65535, likewise', 'q', 3, ['com.x.Outer.spread:5']],
    ['several lines that come from one', 'r', 15, ['com.x.Outer.shrunk:3']],
    [
      'a frame without a line: only the outermost methods are sure',
      'm',
      null,
      ['com.x.Outer.plain:null', 'com.x.Outer.outer:null', 'com.x.Outer.unshifted:null'],
    ],
    ['a line that no range covers', 'm', 99, ['com.x.Outer.plain:null', 'com.x.Outer.outer:null', 'com.x.Outer.unshifted:null']],
    ['a method that kept its name', 'toString', 3, ['method-unknown']],
  ])('finds %s', (_, method, line, expected) => expect(retrace(index, 'a', method, line)).toEqual(expected));

  it('knows a class of its own, and says when it knows none', () => {
    expect(index.className('b')).toBe('com.x.Empty');
    expect(index.className('zzz')).toBeNull();
    expect(retrace(index, 'zzz', 'm', 1)).toEqual(['class-unknown']);
  });

  it('tells nested ranges of two methods, the narrower first', () =>
    expect(retrace(open('com.x.A -> a:', '    1:9:void whole():1:9 -> m', '    4:4:void lambda$whole$0():4:4 -> m'), 'a', 'm', 4)).toEqual([
      'com.x.A.lambda$whole$0:4',
      'com.x.A.whole:4',
    ]));

  it('takes the parts of a class that is written in two places together', () => {
    const parts = open('com.x.A -> a:', '    void one() -> m', 'com.x.B -> b:', 'com.x.A -> a:', '    void two() -> n');
    expect([...retrace(parts, 'a', 'm', 1), ...retrace(parts, 'a', 'n', 1)]).toEqual(['com.x.A.one:1', 'com.x.A.two:1']);
  });

  it('finds every class among many, whatever letters their names have', () => {
    const names = [...Array.from({ length: 2_000 }, (_, number) => `c${number.toString(36)}`), 'é', 'ß.x', '日本', '\u{1f426}', 'Z', '_'];
    const many = open(
      ...names.flatMap((name, number) => [`com.x.Original${number} -> ${name}:`, `    1:1:void m():${number + 1}:${number + 1} -> m`]),
    );
    names.forEach((name, number) => {
      expect(retrace(many, name, 'm', 1)).toEqual([`com.x.Original${number}.m:${number + 1}`]);
    });
  });

  it('gives the same whatever the pieces the file arrives in', () => {
    const text = bytes('# pg_map_id: 4f1a\r\ncom.x.Äther -> é:\r\n    1:1:void naïve():7:7 -> m\r\n');
    for (let cut = 0; cut <= text.length; cut++) {
      const builder = new MappingIndexBuilder();
      for (const piece of [text.subarray(0, cut), text.subarray(cut)]) expect(builder.add(piece).ok).toBe(true);
      const finished = builder.finish();
      const opened = finished.ok ? MappingIndex.open(writeIndexFile(finished.value)) : null;
      if (!opened?.ok) throw new Error('no index');
      expect([opened.value.summary.mapId, ...retrace(opened.value, 'é', 'm', 1)]).toEqual(['4f1a', 'com.x.Äther.naïve:7']);
    }
  });
});

describe('a summary', () => {
  it('holds the ids and counts, and names the lines that could not be read', () => {
    const text = [
      '# compiler: R8',
      '# pg_map_id: 8c1f00d',
      ...Array.from({ length: 60 }, (_, number) => `com.x.A${number} -> a${number}:`),
      'what is this',
    ];
    expect(open(...text).summary).toEqual({
      mapId: '8c1f00d',
      compiler: 'R8',
      classes: 60,
      methods: 0,
      lines: 63,
      unreadableLines: 1,
      warnings: [{ line: 63, text: 'what is this' }],
    });
  });
});

describe('an index file', () => {
  const indexed = indexMapping(bytes('com.x.A -> a:\n    1:1:void m():7:7 -> m\n'));
  const index = indexed.ok ? writeIndexFile(indexed.value) : new Uint8Array();

  it('is detected when truncated at any byte', () => {
    for (let length = 0; length < index.length; length++) {
      const opened = MappingIndex.open(index.slice(0, length));
      expect(opened.ok).toBe(false);
    }
  });

  it('is detected when any byte is altered', () => {
    for (let at = 0; at < index.length; at++) {
      const altered = index.slice();
      altered[at] = (altered[at] as number) ^ 0x40;
      expect(MappingIndex.open(altered).ok).toBe(false);
    }
  });

  it('of another version is told apart from a damaged one', () => {
    const newer = index.slice();
    newer[8] = 9;
    expect(openIndexFile(newer)).toMatchObject({ ok: false, problem: { code: 'other-version' } });
  });

  it('is read from the middle of a larger buffer', () => {
    const around = new Uint8Array(index.length + 3);
    around.set(index, 3);
    const opened = MappingIndex.open(around.subarray(3));
    expect(opened.ok && retrace(opened.value, 'a', 'm', 1)).toEqual(['com.x.A.m:7']);
  });
});

describe('what is no mapping', () => {
  it.each([
    ['{"version":3,"mappings":""}', 'a source map (JSON)'],
    ['{"a":1}', 'a JSON document'],
    ['<!doctype html>', 'an HTML page'],
    ['PK\u0003\u0004', 'a ZIP archive'],
    ['EMBERSYM', 'a symbol index'],
    ['some words', 'a plain text of another kind'],
    ['', 'an empty file'],
    ['\n\n', 'an empty text'],
  ])('%j is refused as %s', (text, looksLike) => {
    for (const result of [detectMapping(bytes(text)), indexMapping(bytes(text))])
      expect(result).toMatchObject({ ok: false, problem: { code: 'not-a-mapping', message: expect.stringContaining(looksLike) } });
  });

  it('passes the first look when it begins with a class, or with comments only', () => {
    expect(detectMapping(bytes('# a\n\ncom.x.A -> a:\n')).ok).toBe(true);
    expect(detectMapping(bytes('# a\n# b\n')).ok).toBe(true);
  });

  it('is refused after 100 MB of garbage at the latest, in memory that does not grow with it', () => {
    const garbage = [bytes('no mapping at all\n'.repeat(60_000)), new Uint8Array(1 << 20).fill(65), bytes('a -> b\n'.repeat(100_000))];
    for (const piece of garbage) {
      const builder = new MappingIndexBuilder();
      let taken = 0;
      let refused = false;
      for (; taken < 100 << 20 && !refused; taken += piece.length) refused = !builder.add(piece).ok;
      expect(refused).toBe(true);
      // It is given up within a few pieces, long before the end.
      expect(taken).toBeLessThan(8 << 20);
    }
  });
});

describe('outlines, as R8 makes them', () => {
  const mapping = `com.larkfield.guide.Shared -> a:
    1:2:int outline() -> a
# {"id":"com.android.tools.r8.outline"}
com.larkfield.guide.NightMap -> b:
    4:4:int tile(int):23 -> s
    5:5:int com.larkfield.guide.TileCache.keep(int):98:98 -> s
    5:5:int tile(int):24 -> s
    27:27:int tile(int):0:0 -> s
# {"id":"com.android.tools.r8.outlineCallsite","positions":{"1":4,"2":5},"outline":"La;a()I"}
`;

  it('give no frame of their own; the line inside chooses the line of the caller, inlined calls included', () => {
    const index = open(mapping);
    expect(index.retrace('a', 'a', 1)).toEqual({ state: 'outline' });
    const caller = (outlineLine: number | null) => {
      const match = index.retrace('b', 's', 27, { outlineLine });
      return match.state === 'found' ? match.alternatives[0]?.map((frame) => `${frame.method}:${frame.line}`) : match.state;
    };
    expect(caller(1)).toEqual(['tile:23']);
    expect(caller(2)).toEqual(['keep:98', 'tile:24']);
    expect(caller(7)).toEqual(['tile:null']);
    expect(caller(null)).toEqual(['tile:null']);
  });
});

describe('rewritten frames, as R8 makes them', () => {
  const mapping = `com.larkfield.guide.Settings -> a:
    4:4:java.lang.Object java.util.Objects.requireNonNull(java.lang.Object):23:23 -> a
    4:4:void load(java.lang.String):7 -> a
# {"id":"com.android.tools.r8.rewriteFrame","conditions":["throws(Ljava/lang/NullPointerException;)"],"actions":["removeInnerFrames(1)"]}
    9:9:void com.larkfield.guide.Text.trim():3:3 -> b
    9:9:void save():8 -> b
# {"id":"com.android.tools.r8.rewriteFrame","conditions":["something(else)"],"actions":["removeInnerFrames(1)"]}
`;
  const methods = (name: string, line: number, thrown: string | null) => {
    const match = open(mapping).retrace('a', name, line, { thrown });
    return match.state === 'found' ? match.alternatives[0]?.map((frame) => frame.method) : match.state;
  };

  it('lose the calls nobody wrote where that exception was thrown, and nowhere else', () => {
    expect(methods('a', 4, 'java.lang.NullPointerException')).toEqual(['load']);
    expect(methods('a', 4, 'java.lang.IllegalStateException')).toEqual(['requireNonNull', 'load']);
    expect(methods('a', 4, null)).toEqual(['requireNonNull', 'load']);
  });

  it('with a condition that is not known stay whole', () => {
    expect(methods('b', 9, 'java.lang.NullPointerException')).toEqual(['trim', 'save']);
  });
});
