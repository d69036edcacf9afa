import { readdirSync, readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { readCrashFile } from '../../report/formats/crash-file.ts';
import type { FoundReport } from '../../report/formats/found-report.ts';
import type { ReadableFrame } from '../../symbolicate/readable-report.ts';
import { noSymbols } from '../../symbolicate/symbol-source.ts';
import { symbolicate } from '../../symbolicate/symbolicate.ts';
import { onlySource } from '../../symbolicate/testing/only-source.ts';
import { sectionsOf } from '../index-file.ts';
import { indexSourceMap } from './index-builder.ts';
import { SourceMapIndex } from './lookup.ts';

const folder = new URL('../../../samples/script-functions/', import.meta.url);
const built = (name: string) => readFileSync(new URL(`built/${name}`, folder));
const builds = readdirSync(new URL('built/', folder)).filter((name) => name.endsWith('.stack'));

/** What each line of the sources says of the function it stands in, by `file:line`. */
const written = new Map<string, string>(
  readdirSync(new URL('sources/', folder)).flatMap((file) =>
    readFileSync(new URL(`sources/${file}`, folder), 'utf8')
      .split('\n')
      .flatMap((line, index) => {
        const name = / \/\/@ (.*)$/.exec(line)?.[1];
        return name === undefined ? [] : [[`${file}:${index + 1}`, name] as const];
      }),
  ),
);

const placeOf = ({ file, line }: Pick<ReadableFrame, 'file' | 'line'>) => `${file?.replace(/^.*\//, '')}:${line}`;

function openMap(build: string, engine: string): SourceMapIndex {
  const indexed = indexSourceMap(new Uint8Array(built(`${build}.${engine === 'bytecode' ? 'hbc' : 'js'}.map`)));
  const opened = indexed.ok ? SourceMapIndex.open(sectionsOf(indexed.value)) : indexed;
  if (!opened.ok) throw new Error(opened.problem.message);
  return opened.value;
}

/** The stacks of one build on one engine, by story. */
function storiesOf(name: string): Map<string, FoundReport> {
  const stories = new Map<string, FoundReport>();
  for (const [, story = '', header = '', stack = ''] of built(name)
    .toString('utf8')
    .matchAll(/^story (\S+)\n(.*)\n([\s\S]*?)\nend$/gm)) {
    // Some engines begin a stack with the error, some without.
    const read = readCrashFile(new TextEncoder().encode(stack.startsWith(header) ? stack : `${header}\n${stack}`), {
      receivedAt: '2026-01-01T00:00:00Z',
    });
    if (!read.ok || read.value.length !== 1) throw new Error(`${name} ${story}`);
    stories.set(story, read.value[0] as FoundReport);
  }
  return stories;
}

/** Frames of the stories themselves, without those of whoever runs them. */
const ofStories = (frames: readonly ReadableFrame[]) =>
  frames.filter((frame) => frame.ours && !(frame.file?.endsWith('main.js') && frame.function !== 'show'));

/** The functions of a stack, each once however often it follows on itself. */
const namesOf = (frames: readonly ReadableFrame[]) =>
  frames
    .map((frame) => (frame.line === null ? frame.function : (written.get(placeOf(frame)) ?? placeOf(frame))))
    .filter((one, at, all) => one !== all[at - 1]);

const plain = new Map(
  [...storiesOf('plain.v8.stack')].map(([story, report]) => [
    story,
    namesOf(ofStories(symbolicate(report, noSymbols, { ours: [] }).exceptions[0]?.frames ?? [])),
  ]),
);
/** Behind an await each engine tells as much as it likes. */
const isAsynchronous = (story: string) => /^async/.test(story);
/** Where a class is evaluated that fails at once, this engine points at the class, as it does for a constructor that nobody wrote. */
const pointsAtClass = (name: string, story: string) => name === 'modern.javascriptcore.stack' && /^static(?:Block|Field)$/.test(story);

describe.each(builds.filter((name) => !name.startsWith('plain.')))('the functions of %s', (name) => {
  const [build = '', engine = ''] = name.split('.');
  const map = openMap(build, engine);
  const stories = storiesOf(name);

  it.each([...plain.keys()].filter((story) => !pointsAtClass(name, story)))('%s', (story) => {
    const report = stories.get(story);
    if (!report) throw new Error(`${name} has no stack of ${story}`);
    const { exceptions, needs } = symbolicate(report, onlySource('sourcemap', map), { ours: [] });
    const frames = ofStories(exceptions[0]?.frames ?? []);
    const placed = frames.filter(({ line }) => line !== null);
    expect(placed.map((frame) => `${frame.function} ${placeOf(frame)} ${frame.status}`)).toEqual(
      placed.map((frame) => `${written.get(placeOf(frame))} ${placeOf(frame)} resolved`),
    );
    expect(frames.length).toBeGreaterThan(0);
    expect(needs.every((need) => need.found)).toBe(true);
    // A minifier puts small functions into those that call them; what is left stands in the order of the plain program.
    const names = namesOf(frames);
    const order = (plain.get(story) ?? []).filter((one) => names.includes(one));
    if (!isAsynchronous(story)) expect(names).toEqual(order);
  });
});

it('a recursion that the engine itself cut keeps both ends, and says how much is missing', () => {
  const deep = storiesOf('es5.bytecode.stack').get('deep')?.exceptions[0];
  expect(deep?.framesLeftOut).toEqual({ after: 50, count: 205 });
  expect(deep?.frames.at(-1)).toMatchObject({ function: 'global' });
});

it('positions inside the byte code of the engine keep line and column, and ask for nothing', () => {
  const report = storiesOf('es5.bytecode.stack').get('async') as FoundReport;
  const internal = symbolicate(report, noSymbols, { ours: [] }).exceptions[0]?.frames.filter(
    (frame) => frame.file === 'InternalBytecode.js',
  );
  expect(internal?.length).toBeGreaterThan(0);
  for (const frame of internal ?? []) {
    expect(frame).toMatchObject({ ours: false, status: 'as-written' });
    expect([frame.line, frame.column].every((one) => typeof one === 'number')).toBe(true);
  }
});

it('functions of a map without texts have the names by which they were called', () => {
  const map = JSON.parse(built('modern.js.map').toString('utf8'));
  delete map.sourcesContent;
  const indexed = indexSourceMap(new TextEncoder().encode(JSON.stringify(map)));
  const opened = indexed.ok ? SourceMapIndex.open(sectionsOf(indexed.value)) : indexed;
  if (!opened.ok) throw new Error(opened.problem.message);
  const named = (story: string) => {
    const report = storiesOf('modern.v8.stack').get(story) as FoundReport;
    return symbolicate(report, onlySource('sourcemap', opened.value), { ours: [] })
      .exceptions[0]?.frames.slice(0, 3)
      .map((frame) => frame.function);
  };
  // The bundler has put the arrow into the function around it.
  expect(named('nested')).toEqual(['fail', 'within', 'outer']);
  expect(named('deep')).toEqual(['fail', 'deep', 'deep']);
  expect(named('explicit')?.[0]).toBe('fail');
  expect(named('each')?.slice(0, 2)).toEqual(['fail', '<anonymous>']);
});
