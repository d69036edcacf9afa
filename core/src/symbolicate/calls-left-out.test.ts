import { describe, expect, it } from 'vitest';
import { frameSchema } from '../report/frames.ts';
import { sectionsOf } from '../symbols/index-file.ts';
import { indexSourceMap } from '../symbols/sourcemap/index-builder.ts';
import { SourceMapIndex } from '../symbols/sourcemap/lookup.ts';
import { calledAt } from './calls-left-out.ts';
import { symbolicate } from './symbolicate.ts';
import { onlySource } from './testing/only-source.ts';

describe('what is called where a text begins', () => {
  it.each([
    ['flush(row);', 'flush'],
    ['shelf.flush(row);', 'flush'],
    ['shelf ?. flush ?.(row)', 'flush'],
    ['new Shelf(name)', 'Shelf'],
    ['this.#send(row)', null],
    ['causes[name]()', null],
    ['name;', null],
    ['if (row)', null],
    ['return next()', null],
    ['größe(1)', 'größe'],
  ])('"%s": %s', (text, called) => expect(calledAt(text)).toBe(called));
});

const source = `
function send(row) {
  throw new Error(row);
}
function prepare(row) {
  return send(row);
}
function flush(rows) {
  return prepare(rows[0]);
}
const later = { flush: (rows) => rows.length };
function alias(visit) {
  return visit(1);
}
function visit() {
  return null;
}
export function start() {
  flush(['a']);
  alias(send);
}
`;
const lines = source.split('\n');
/** A map of a script that stands as it was written. */
function openMap(): SourceMapIndex {
  const vlq = (value: number): string => {
    let rest = value < 0 ? (-value << 1) | 1 : value << 1;
    let text = '';
    do {
      const digit = (rest & 31) | (rest > 31 ? 32 : 0);
      text += 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/'[digit];
      rest >>>= 5;
    } while (rest > 0);
    return text;
  };
  let [lastLine, lastColumn] = [0, 0];
  const mappings = lines.map((line, at) =>
    [...line].map((_, column) => {
      const segment = [column === 0 ? 0 : 1, 0, at - lastLine, column - lastColumn].map(vlq).join('');
      [lastLine, lastColumn] = [at, column];
      return segment;
    }),
  );
  const map = {
    version: 3,
    sources: ['notes.js'],
    sourcesContent: [source],
    names: [],
    mappings: mappings.map((line) => line.join(',')).join(';'),
  };
  const indexed = indexSourceMap(new TextEncoder().encode(JSON.stringify(map)));
  const opened = indexed.ok ? SourceMapIndex.open(sectionsOf(indexed.value)) : indexed;
  if (!opened.ok) throw new Error(opened.problem.message);
  return opened.value;
}
const map = openMap();

type Placed = readonly [text: string, named: string, more?: object];
/** The functions of a stack whose frames stand at these texts, as the engine names them. */
function read(...frames: Placed[]) {
  const stack = frames.map(([text, named, more]) => {
    const line = lines.findIndex((one) => one.includes(text));
    const column = (lines[line] as string).indexOf(text);
    return frameSchema.parse({ runtime: 'javascript', function: named, file: 'index.min.js', line: line + 1, column: column + 1, ...more });
  });
  const exception = {
    type: 'Error',
    message: null,
    relation: 'thrown' as const,
    parent: null,
    frames: stack,
    framesInCommon: 0,
    stack: null,
  };
  const { exceptions } = symbolicate({ exceptions: [exception], threads: [] }, onlySource('sourcemap', map), { ours: [] });
  return exceptions[0]?.frames ?? [];
}
const names = (...frames: Placed[]) => read(...frames).map((frame) => frame.function);

describe('calls that left no frame', () => {
  it('are put back where the one below calls a function that calls the one above', () => {
    const frames = read(['new Error(row)', 'a'], ['prepare(rows[0])', 'b'], ["flush(['a'])", 'c']);
    expect(frames.map((frame) => [frame.function, frame.file, frame.line, frame.inlined])).toEqual([
      ['send', 'notes.js', 3, true],
      ['prepare', 'notes.js', null, false],
      ['flush', 'notes.js', 9, false],
      ['start', 'notes.js', 19, false],
    ]);
    expect(frames.map((frame) => frame.rawIndex)).toEqual([0, 0, 1, 2]);
  });

  it('are put back through one more function, where there is one way alone', () => {
    expect(names(['new Error(row)', 'a'], ["flush(['a'])", 'c'])).toEqual(['send', 'prepare', 'flush', 'start']);
  });

  it('are known by the name that the engine gives to the function that ran, too', () => {
    expect(names(['new Error(row)', 'prepare'], ['rows.length', 'd'])).toEqual(['send', 'prepare', 'flush']);
  });

  it('are not made up for a parameter, a name of its own, or what stands behind an await', () => {
    expect(names(['new Error(row)', 'a'], ['visit(1)', 'e'])).toEqual(['send', 'alias']);
    expect(names(['new Error(row)', 'a'], ["flush(['a'])", 'c', { async: true }])).toEqual(['send', 'start']);
    expect(names(['return null', 'a'], ["flush(['a'])", 'c'])).toEqual(['visit', 'start']);
  });
});

it('what is called where a function is written stands in the function around it, and not at its closing brace', () => {
  const brace = lines.findIndex((line, at) => line === '}' && lines[at - 1]?.includes('prepare(rows'));
  expect(map.lookup(brace + 1, 0)?.function).toBe('(top level)');
});
