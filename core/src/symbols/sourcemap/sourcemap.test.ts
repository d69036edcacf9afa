import { readFileSync } from 'node:fs';
import { originalPositionFor, TraceMap } from '@jridgewell/trace-mapping';
import { describe, expect, it } from 'vitest';
import { parseAtFrame } from '../../report/formats/javascript-stack/frame.ts';
import { writeIndexFile } from '../index-file.ts';
import { indexSourceMap } from './index-builder.ts';
import { SourceMapIndex } from './lookup.ts';

/** Bundles of three bundlers and a byte-code compiler with the stacks they printed; `build.sh` there made them. */
const built = (name: string): string => readFileSync(new URL(`../../../samples/source-maps/built/${name}`, import.meta.url), 'utf8');

function open(json: string): SourceMapIndex {
  const indexed = indexSourceMap(new TextEncoder().encode(json));
  if (!indexed.ok) throw new Error(indexed.problem.message);
  const opened = SourceMapIndex.open(writeIndexFile(indexed.value));
  if (!opened.ok) throw new Error(opened.problem.message);
  return opened.value;
}

const problemOf = (json: string) => {
  const indexed = indexSourceMap(new TextEncoder().encode(json));
  return indexed.ok ? null : indexed.problem;
};

/** The stacks of a printed text by their titles; only frames in scripts, each as function, file and line. */
function stacks(text: string, read: (line: string) => string | null): Map<string, string[]> {
  const found = new Map<string, string[]>();
  for (const part of text.split('== ').slice(1)) {
    const [title, ...lines] = part.trimEnd().split('\n');
    found.set(
      title as string,
      lines.map(read).filter((frame) => frame !== null),
    );
  }
  return found;
}

const plainFrame = (line: string): string | null => {
  const frame = parseAtFrame(line);
  return !frame?.file || frame.file.startsWith('node:') ? null : `${frame.file}:${frame.line}`;
};

function restoredFrame(map: SourceMapIndex, line: string): { place: string; name: string | null } | null {
  const frame = parseAtFrame(line);
  if (!frame?.file || frame.file.startsWith('node:') || frame.line === null || frame.column === null) return null;
  const found = map.lookup(frame.line, frame.bytecode ? frame.column : frame.column - 1);
  return found && { place: `${found.source?.replace(/.*\//, '')}:${found.line}`, name: found.function };
}

describe.each(['esbuild', 'rollup', 'webpack'])('the map of %s', (bundler) => {
  const map = open(built(`${bundler}.js.map`));
  const script = built(`${bundler}.js`).split('\n');

  it('answers every column of the bundle as the general mapping library does', () => {
    const yardstick = new TraceMap(built(`${bundler}.js.map`));
    script.forEach((text, index) => {
      for (let column = 0; column < text.length; column++) {
        const theirs = originalPositionFor(yardstick, { line: index + 1, column });
        const ours = map.lookup(index + 1, column);
        expect([ours?.line ?? null, ours ? ours.column - 1 : null, ours?.name ?? null]).toEqual([theirs.line, theirs.column, theirs.name]);
      }
    });
  });

  it('leads the stacks of the bundle to the lines that the sources print when they run as they are', () => {
    const plain = stacks(built('plain.stack'), plainFrame);
    const restored = stacks(built(`${bundler}.stack`), (line) => restoredFrame(map, line)?.place ?? null);
    expect([...restored.keys()]).toEqual([...plain.keys()]);
    for (const [title, frames] of restored) {
      const expected = plain.get(title) as string[];
      expect([title, frames[0]]).toEqual([title, expected[0]]);
      // A bundler may put a small function into its caller, and adds a wrapper below; what it leaves is in order.
      let at = 0;
      for (const place of expected) if (frames[at] === place) at++;
      expect([title, at]).toEqual([title, expect.toSatisfy((count: number) => count >= Math.min(frames.length, expected.length) - 1)]);
    }
  });

  it('names each frame by the function around it, not by what it calls', () => {
    const named = stacks(built(`${bundler}.stack`), (line) => restoredFrame(map, line)?.name ?? null);
    expect(named.get('method')?.slice(0, 5)).toEqual(['checkedExposure', 'Camera.takePicture', 'main.<anonymous>', 'attempt', 'main']);
    expect(named.get('static')?.[0]).toBe('Camera.fromSettings');
    expect(named.get('getter')?.[0]).toBe('get Camera.lastPicture');
    expect(named.get('private')?.slice(0, 4)).toEqual(['Camera.#turn', 'Camera.#turn', 'Camera.#turn', 'Camera.calibrate']);
    expect(named.get('callback')?.slice(0, 2)).toEqual(['visitors.<anonymous>', 'visitors']);
    expect(named.get('property')?.slice(0, 3)).toEqual(['hourOf', 'byHour.<anonymous>', 'byHour']);
    expect(named.get('wrapped')?.slice(0, 2)).toEqual(['shout', 'louder.<anonymous>']);
    expect(named.get('generator')?.[0]).toBe('each');
    expect(named.get('asynchronous')?.[0]).toBe('connect');
  });
});

describe('the composed map of byte code', () => {
  const map = open(built('night.hbc.map'));

  it('takes offsets from 0 and leads to the lines and functions of the sources', () => {
    const plain = stacks(built('night-plain.stack'), plainFrame);
    const restored = stacks(built('night.stack'), (line) => restoredFrame(map, line)?.place ?? null);
    for (const [title, frames] of restored) {
      const expected = plain.get(title) as string[];
      expect(frames.slice(0, expected.length)).toEqual(expected);
    }
    const named = stacks(built('night.stack'), (line) => restoredFrame(map, line)?.name ?? null);
    expect(named.get('nested')?.slice(0, 5)).toEqual(['count', 'countNight', 'night.<anonymous>', 'attempt', 'night']);
  });
});

describe('a source map', () => {
  const simple = {
    version: 3,
    sources: ['a.js'],
    names: ['one'],
    mappings: 'AAAA,IAAIA',
    sourcesContent: ['let one;\nfunction two() {\n  one();\n}\n'],
  };
  const json = (change: object) => JSON.stringify({ ...simple, ...change });

  it('keeps the lines of its sources', () => {
    const found = open(json({ mappings: 'AAEE' })).lookup(1, 0);
    expect(found).toMatchObject({ source: 'a.js', line: 3, column: 3, function: 'two', ignored: false });
    expect(open(json({})).sourceLines(0, 2, 3)).toEqual(['function two() {', '  one();']);
    expect(open(json({ sourcesContent: [null] })).sourceLines(0, 1, 1)).toBeNull();
  });

  it("puts its root before sources that have none, and tells which are not the developer's own", () => {
    const map = open(
      json({ sourceRoot: '/app', sources: ['a.js', 'https://x/b.js', '/c.js'], mappings: 'AAAA,CCAA,CCAA', ignoreList: [1] }),
    );
    expect([0, 1, 2].map((column) => map.lookup(1, column)?.source)).toEqual(['/app/a.js', 'https://x/b.js', '/c.js']);
    expect([0, 1].map((column) => map.lookup(1, column)?.ignored)).toEqual([false, true]);
  });

  it('of several sections puts each where it begins', () => {
    const map = open(
      JSON.stringify({
        version: 3,
        sections: [
          { offset: { line: 0, column: 0 }, map: simple },
          { offset: { line: 0, column: 100 }, map: { ...simple, sources: ['b.js'], mappings: 'AAAA;AACA' } },
          { offset: { line: 5, column: 3 }, map: { ...simple, sources: ['c.js'] } },
          { offset: { line: 9, column: 0 }, url: 'elsewhere.map' },
        ],
      }),
    );
    expect(map.lookup(1, 4)).toMatchObject({ source: 'a.js', name: 'one' });
    expect(map.lookup(1, 100)?.source).toBe('b.js');
    expect(map.lookup(2, 7)).toMatchObject({ source: 'b.js', line: 2 });
    expect(map.lookup(6, 2)).toBeNull();
    expect(map.lookup(6, 3)?.source).toBe('c.js');
    expect(map.summary.warnings).toEqual(['the section at line 10 refers to a map elsewhere and was left out']);
  });

  it('maps nothing where it says so, before the first mapping of a line, and outside of its lines', () => {
    const map = open(json({ mappings: 'E,CAAA;;C' }));
    expect([map.lookup(1, 0), map.lookup(1, 2), map.lookup(2, 0), map.lookup(3, 5), map.lookup(0, 0), map.lookup(99, 0)]).toEqual(
      Array(6).fill(null),
    );
    expect(map.lookup(1, 3)).toMatchObject({ line: 1, column: 1 });
  });

  it('with mappings that the grammar does not allow loses those only, and says so', () => {
    const map = open(json({ mappings: 'AAAA,!!,CA,AAAAAA,gggggggggggggC,IAAI,DDDDD' }));
    expect(map.lookup(1, 4)).toMatchObject({ column: 5 });
    expect(map.summary.warnings).toEqual(['5 mappings are not valid and were left out']);
  });

  it('whose mappings of a line are out of order is sorted', () => {
    const map = open(json({ mappings: 'UAAU,TAAT' }));
    expect([map.lookup(1, 1)?.column, map.lookup(1, 10)?.column]).toEqual([2, 11]);
  });

  it.each([
    ['debugId', 'A1B2C3D4-0000-4111-8222-93F4F5F6F7F8'],
    ['debug_id', 'a1b2c3d4-0000-4111-8222-93f4f5f6f7f8'],
  ])('has its id from %s, in one spelling', (key, id) => {
    expect(open(json({ [key]: id })).summary.debugId).toBe('a1b2c3d400004111822293f4f5f6f7f8');
  });

  it.each([
    ['{"a":1}', 'not-a-source-map', 'neither "mappings" nor "sections"'],
    ['[1]', 'not-a-source-map', 'no object'],
    ['{"mappings":', 'not-a-source-map', 'not JSON'],
    [json({ version: 2 }), 'damaged-source-map', '"version" is 2'],
  ])('is refused when it is %s', (text, code, words) => {
    expect(problemOf(text)).toMatchObject({ code, message: expect.stringContaining(words) });
  });

  it('may begin with the line that keeps browsers from running it', () => {
    expect(open(`)]}'\n${json({})}`).lookup(1, 0)?.line).toBe(1);
  });

  it('whose source no parser reads keeps positions and says which', () => {
    const map = open(json({ sources: ['feeder.vue'], sourcesContent: ['%%% not a script'] }));
    expect(map.lookup(1, 0)).toMatchObject({ line: 1, function: null });
    expect(map.summary.warnings[0]).toContain('feeder.vue could not be parsed');
  });
});

describe('names of functions', () => {
  const functionAt = (source: string, line: number, column: number, file = 'a.tsx') => {
    const names = open(JSON.stringify({ version: 3, sources: [file], sourcesContent: [source], names: [], mappings: 'AAAA' }));
    expect(names.summary.warnings).toEqual([]);
    const segment = (value: number) => {
      let text = '';
      for (let rest = value << 1; ; ) {
        const digit = rest & 31;
        rest >>>= 5;
        text += 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/'[digit | (rest > 0 ? 32 : 0)];
        if (rest === 0) return text;
      }
    };
    const mapped = open(
      JSON.stringify({
        version: 3,
        sources: [file],
        sourcesContent: [source],
        names: [],
        mappings: `AA${segment(line - 1)}${segment(column)}`,
      }),
    );
    return mapped.lookup(1, 0)?.function;
  };

  it.each([
    ['const List = memo(() => { fail(); });', 'List'],
    ['export default () => { fail(); };', 'default'],
    ['module.exports.load = function () { fail(); };', 'load'],
    ['const api = { "fetch-all": async () => { fail(); } };', 'fetch-all'],
    ['class A { static #b = () => { fail(); }; }', 'A.#b'],
    ['const B = class { set size(v: number) { fail(); } };', 'set B.size'],
    ['class C { constructor() { fail(); } }', 'new C'],
    ['class D { static { fail(); } }', 'D.<static>'],
    ['function outer() { return list.map((x) => { fail(); }); }', 'outer.<anonymous>'],
    ['function outer() { then(() => then(() => { fail(); })); }', 'outer.<anonymous>'],
    ['(function () { fail(); })();', '<anonymous>'],
    ['function f({ g = () => { fail(); } }) {}', 'g'],
    ['const h = (() => { fail(); }) as Handler;', 'h'],
    ['fail();', '(top level)'],
    ['const View = () => <b onPress={() => { fail(); }} />;', 'View.<anonymous>'],
    ['enum E { a } namespace N { export function inner() { fail(); } }', 'inner'],
  ])('in %s is %s', (source, name) => expect(functionAt(source, 1, source.indexOf('fail'))).toBe(name));

  it('are found in the typed dialect of plain scripts as well', () => {
    const source = '// @flow\ntype T = {| +a: ?string |};\nexport function typed(x: T): ?string { fail(); }';
    expect(functionAt(source, 3, source.split('\n')[2]?.indexOf('fail') ?? 0, 'a.js')).toBe('typed');
  });
});
