import { readFileSync } from 'node:fs';
import { gunzipSync } from 'node:zlib';
import { describe, expect, it } from 'vitest';
import { formatFrame } from '../../format-frame.ts';
import type { Frame } from '../../frames.ts';
import { readCrashFile } from '../crash-file.ts';

const recorded: readonly { release: string; stack: string; componentStack: string; log: readonly string[] }[] = JSON.parse(
  gunzipSync(readFileSync(new URL('../../../../samples/component-stacks/recorded.json.gz', import.meta.url))).toString('utf8'),
);
const components = ['ClipList', 'div', 'Row', 'Fancy', 'section', 'CameraScreen', 'Boundary', 'App'];
const nameOf = (frame: Frame) => (frame.runtime === 'javascript' ? frame.function : null);

const read = (text: string) => {
  const found = readCrashFile(new TextEncoder().encode(text), { receivedAt: '2026-01-01T00:00:00Z' });
  if (!found.ok) throw new Error(found.problem.message);
  return found.value.map(({ exceptions, threads }) => ({ exceptions, threads }));
};

describe.each(recorded)('component stacks of release $release', ({ stack, componentStack, log }) => {
  const own = stack
    .split('\n')
    .slice(1)
    .map((line) => line.trim().replace(/^at /, ''));
  const told = log.find((one) => /in the <ClipList>/.test(one)) as string;
  /** The releases differ in whether the log repeats the components. */
  const isInLog = /(?:in|at) CameraScreen/.test(told);

  it('alone are a report of their own', () => {
    for (const text of [componentStack, componentStack.trim(), `\n${componentStack}\n\n`]) {
      const [found, ...others] = read(text);
      expect(others).toEqual([]);
      expect(found?.exceptions.map(({ type, frames }) => [type, frames.map(nameOf)])).toEqual([['component stack', components]]);
    }
  });

  const texts: readonly (readonly [how: string, text: string])[] = [
    ['at once', `${stack}${componentStack}`],
    ['behind an empty line', `${stack}\n${componentStack}`],
    [
      'under a heading',
      `${stack}\n\nThe above error occurred in the <ClipList> component:\n${componentStack}\n\nConsider adding an error boundary to your tree.`,
    ],
    ['under the heading of a device', `${stack}\n\nThis error is located at:${componentStack}\n`],
    ...(isInLog ? [['in its log', `${stack}\n${told}`] as const] : []),
  ];

  it.each(texts)('follow an error %s', (_, text) => {
    const [found, ...others] = read(text);
    expect(others).toEqual([]);
    expect(found?.exceptions.map(({ type, frames }) => [type, frames.map(formatFrame)])).toEqual([['TypeError', own]]);
    expect(found?.threads.map(({ name, frames }) => [name, frames.map(nameOf)])).toEqual([['Component stack', components]]);
  });

  it('say where their components are written', () => {
    const [top] = read(componentStack)[0]?.exceptions[0]?.frames ?? [];
    if (componentStack.includes('app/story.mjs')) expect(top && formatFrame(top)).toMatch(/^ClipList \(app\/story\.mjs:\d+:\d+\)$/);
  });
});

it('component stacks with nothing but files are read', () => {
  const [found] = read('    in ClipList (at CameraScreen.tsx:14)\n    in RCTView (at View.js:34)\n    in CameraScreen (at App.tsx:9:7)\n');
  expect(found?.exceptions[0]?.frames.map(formatFrame)).toEqual([
    'ClipList (CameraScreen.tsx:14)',
    'RCTView (View.js:34)',
    'CameraScreen (App.tsx:9:7)',
  ]);
});

it('component stacks of engines that write no "at" are read under their heading', () => {
  const stack = 'TypeError: undefined is not an object\ntrim@http://localhost:8081/index.bundle:4128:33\n';
  const [found] = read(
    `${stack}\nThis error is located at:\nClipList@http://localhost:8081/index.bundle:4100:20\nRCTView@unknown:0:0\nView\nApp@http://localhost:8081/index.bundle:1:2\n`,
  );
  expect(found?.exceptions[0]?.frames.map(formatFrame)).toEqual(['trim (http://localhost:8081/index.bundle:4128:33)']);
  expect(found?.threads[0]?.frames.map(nameOf)).toEqual(['ClipList', 'RCTView', 'View', 'App']);
});

it('an ordinary stack with functions of the engine is none of components', () => {
  const [found] = read(
    'Error: x\n    at JSON.parse (<anonymous>)\n    at Load (a.js:1:2)\n    at new Promise (<anonymous>)\n    at async Promise.all (index 0)\n',
  );
  expect(found?.threads).toEqual([]);
  expect(found?.exceptions[0]?.frames).toHaveLength(4);
});
