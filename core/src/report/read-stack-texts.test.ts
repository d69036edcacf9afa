import { describe, expect, it } from 'vitest';
import { readStackTexts } from './read-stack-texts.ts';
import { type Report, type ReportInput, reportSchema } from './report.ts';

const report = (...exceptions: NonNullable<ReportInput['exceptions']>): Report =>
  reportSchema.parse({
    id: '0192d3a4-5b6c-4d7e-8f90-a1b2c3d4e5f6',
    kind: 'crash',
    occurredAt: '2026-01-01T00:00:00Z',
    version: '1',
    build: '1',
    exceptions,
  });
const java =
  'java.lang.IllegalStateException: no route\n\tat com.larkfield.A.b(A.java:1)\nCaused by: java.io.IOException: closed\n\tat com.larkfield.C.d(C.java:2)\n';
const chainOf = ({ exceptions }: Report) =>
  exceptions.map(({ type, message, relation, frames, stack }) => [type, message, relation, frames.length, stack !== null]);

describe('stacks that a client sent as text', () => {
  it('become the whole chain, under the type and message that the client told', () => {
    expect(chainOf(readStackTexts(report({ type: 'RouteProblem', message: 'of the map', stack: java })))).toEqual([
      ['RouteProblem', 'of the map', 'thrown', 1, false],
      ['java.io.IOException', 'closed', 'cause', 1, false],
    ]);
    expect(chainOf(readStackTexts(report({ type: 'RouteProblem', stack: java })))[0]).toEqual([
      'RouteProblem',
      'no route',
      'thrown',
      1,
      false,
    ]);
  });

  it('tell of threads where the client told of none', () => {
    const text = `Exception in thread "tiles" ${java}`;
    expect(readStackTexts(report({ type: 'A', stack: text })).threads.map(({ name }) => name)).toEqual(['tiles']);
    const told = {
      ...report({ type: 'A', stack: text }),
      threads: [{ name: 'main', id: null, crashed: true, state: null, waitsFor: null, registers: {}, frames: [] }],
    };
    expect(readStackTexts(told).threads.map(({ name }) => name)).toEqual(['main']);
  });

  it('stay as they came where nobody can read them', () => {
    const unread = report({ type: 'A', message: null, stack: 'somewhere, somehow' });
    expect(readStackTexts(unread)).toBe(unread);
  });

  it('of several exceptions are read one by one, beside frames that were sent as such', () => {
    const read = readStackTexts(
      report(
        { type: 'A', stack: 'TypeError: no perch\n    at perch (nest.js:3:7)\n    at main (nest.js:9:1)' },
        { type: 'B', relation: 'cause', parent: 0, stack: 'not a stack' },
        { type: 'C', relation: 'cause', parent: 1, frames: [{ runtime: 'javascript', function: 'f', file: 'a.js', line: 1, column: 1 }] },
        { type: 'D', relation: 'cause', parent: 2 },
      ),
    );
    expect(chainOf(read)).toEqual([
      ['A', null, 'thrown', 2, false],
      ['B', null, 'cause', 0, true],
      ['C', null, 'cause', 1, false],
      ['D', null, 'cause', 0, false],
    ]);
  });

  it('that are none leave the report as it is', () => {
    const plain = report({ type: 'A' }, { type: 'B', relation: 'cause', parent: 0 });
    expect(readStackTexts(plain)).toBe(plain);
  });
});
