import { createHash } from 'node:crypto';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { reportLimits } from '../limits.ts';
import type { Report } from '../report.ts';
import type { SessionItem } from '../session.ts';
import { parseLenientJson } from './lenient-json.ts';
import { mendItem } from './mend-item.ts';

const makeId = (text: string) =>
  createHash('sha256')
    .update(text)
    .digest('hex')
    .replace(/^(.{8})(.{4}).(.{3}).(.{3})(.{12}).*$/, '$1-$2-8$3-8$4-$5');
const context = { receivedAt: '2026-11-30T12:00:00.000Z', makeId };
const id = '0192d3a4-5b6c-4d7e-8f90-a1b2c3d4e5f6';
const frame = (line: number) => ({ runtime: 'jvm', class: 'com.larkfield.A', method: 'b', file: 'A.kt', line });
const report = (more: object = {}): Record<string, unknown> => ({
  type: 'report',
  id,
  kind: 'crash',
  occurredAt: '2026-01-02T03:04:05Z',
  version: '4.3.0',
  build: '430',
  exceptions: [{ type: 'java.lang.Error', frames: [frame(3)] }],
  ...more,
});
const session = (more: object = {}) => ({
  type: 'session',
  id,
  sequence: 0,
  at: '2026-01-02T03:04:05Z',
  startedAt: '2026-01-02T03:04:05Z',
  version: '4.3.0',
  build: '430',
  ...more,
});

function kept<Kind extends 'report' | 'session'>(
  given: object,
): { item: Kind extends 'report' ? Report : SessionItem; remarks: readonly string[] } {
  const mended = mendItem(structuredClone(given), { ...context, text: JSON.stringify(given) });
  if (!mended.ok) throw new Error(mended.error.message);
  return { item: mended.item as never, remarks: mended.remarks };
}
const mended = (more: object) => kept<'report'>(report(more));

describe('an item that fits', () => {
  it('is taken as it is, without a word', () => expect(mended({}).remarks).toEqual([]));
});

describe('an attribute', () => {
  it.each<[what: string, given: unknown, kept: object, remark: RegExp | null]>([
    ['null', null, {}, /^attributes\.x is null/],
    [
      'an object',
      { moves: [{ piece: 'n' }, { piece: 'k', at: [1, 2] }] },
      { 'x.moves[0].piece': 'n', 'x.moves[1].piece': 'k', 'x.moves[1].at': [1, 2] },
      /own path/,
    ],
    ['a list with null', ['a', null, 3], { x: ['a', 3] }, /null among its values/],
    ['a list that is too long', Array(500).fill(1), { x: Array(100).fill(1) }, /the first 100/],
    ['a text that is too long', 'y'.repeat(5_000), { x: `${'y'.repeat(4_095)}…` }, /clipped to 4096/],
    ['an empty object', {}, {}, /own path/],
  ])('that is %s', (_, given, expected, remark) => {
    const { item, remarks } = mended({ attributes: { x: given, good: true } });
    expect(item.attributes).toEqual({ ...expected, good: true });
    expect(remarks.join('\n')).toMatch(remark ?? /^$/);
    expect(item.remarks).toEqual(remarks);
  });

  it('beyond the hundredth is left out, and the first hundred stay', () => {
    const { item, remarks } = mended({ attributes: Object.fromEntries(Array.from({ length: 140 }, (_, at) => [`a${at}`, at])) });
    expect(Object.keys(item.attributes)).toHaveLength(100);
    expect(remarks).toEqual(['attributes are more than 100; 40 were left out']);
  });

  it('with a name that is too long keeps its value', () => {
    const { item } = mended({ attributes: { ['n'.repeat(300)]: 7 } });
    expect(item.attributes).toEqual({ [`${'n'.repeat(199)}…`]: 7 });
  });

  it('named like a part of the language is a name like any other', () => {
    const { item } = kept<'report'>(
      JSON.parse(`{"attributes":{"__proto__":{"a":1},"constructor":null},${JSON.stringify(report()).slice(1)}`),
    );
    expect(item.attributes).toEqual({ '__proto__.a': 1 });
    expect(({} as { a?: number }).a).toBeUndefined();
  });

  it('of a custom event on the trail is mended alike', () => {
    const { item } = mended({
      trail: [{ kind: 'custom', at: '2026-01-02T03:04:00Z', name: 'won', attributes: { game: { score: 3 }, none: null } }],
    });
    expect(item.trail[0]).toMatchObject({ attributes: { 'game.score': 3 } });
  });
});

describe('a flag', () => {
  it.each([
    [3, '3'],
    [true, 'true'],
    [['a', 'b'], 'a, b'],
    [null, 'none'],
    ['v'.repeat(201), `${'v'.repeat(199)}…`],
  ])('with the variant %j is kept', (variant, expected) => expect(mended({ flags: { f: variant } }).item.flags).toEqual({ f: expected }));
});

describe('a stack', () => {
  it('is cut in its middle and keeps its depth', () => {
    const frames = Array.from({ length: 5_000 }, (_, at) => frame(at));
    const { item, remarks } = mended({ exceptions: [{ type: 'java.lang.StackOverflowError', frames }] });
    const [thrown] = item.exceptions;
    expect(thrown?.frames.map((one) => (one as { line: number }).line).filter((_, at) => at === 999 || at === 1_000)).toEqual([999, 4_000]);
    expect(thrown?.framesLeftOut).toEqual({ after: 1_000, count: 3_000 });
    expect(remarks).toEqual(['3000 frames were cut out of the middle of stacks that are too long']);
  });

  it('loses only the frames that nobody can read', () => {
    const { item, remarks } = mended({
      exceptions: [{ type: 'E', frames: [frame(1), 7, { runtime: 'cobol' }, { runtime: 'jvm', method: 'm' }, frame(2)] }],
    });
    expect(item.exceptions[0]?.frames).toMatchObject([{ line: 1 }, { class: '(unknown)', method: 'm' }, { line: 2 }]);
    expect(remarks.length).toBeGreaterThan(1);
  });

  it('may come as text in place of an exception', () => {
    expect(mended({ exceptions: ['java.lang.Error: boom\n\tat a.B.c(B.java:1)'] }).item.exceptions[0]?.stack).toContain('boom');
  });
});

describe('a value of another form', () => {
  it.each<[given: object, expected: object]>([
    [{ occurredAt: 1_767_323_045_000 }, { occurredAt: '2026-01-02T03:04:05.000Z' }],
    [{ occurredAt: '1767323045' }, { occurredAt: '2026-01-02T03:04:05.000Z' }],
    [{ occurredAt: '2026-01-02 03:04:05 UTC' }, { occurredAt: '2026-01-02T03:04:05.000Z' }],
    [{ occurredAt: 'yesterday' }, { occurredAt: context.receivedAt }],
    [{ occurredAt: '0001-01-01T00:00:00Z' }, { occurredAt: context.receivedAt }],
    [{ version: 4.3 }, { version: '4.3' }],
    [{ build: 430 }, { build: '430' }],
    [{ build: null }, { build: '4.3.0' }],
    [
      { version: '', build: '' },
      { version: 'unknown', build: 'unknown' },
    ],
    [{ kind: 'Crash' }, { kind: 'crash' }],
    [{ kind: 'boom' }, { kind: 'error' }],
    [{ country: 'no' }, { country: 'NO' }],
    [{ country: 'Norway' }, { country: null }],
    [{ personId: 417 }, { personId: '417' }],
    [{ sessionId: 'abc' }, { sessionId: makeId('abc') }],
    [{ id: 'a-1' }, { id: makeId('a-1') }],
    [{ locale: 'x'.repeat(80) }, { locale: `${'x'.repeat(49)}…` }],
    [{ os: { name: 'Android' } }, { os: { name: 'Android', version: '' } }],
    [{ os: 'Android' }, { os: null }],
    [{ device: { model: 'lark', batteryPercent: 140 } }, { device: { batteryPercent: 100 } }],
    [{ device: { model: 'lark', memory: { totalBytes: 1.5 } } }, { device: { memory: { totalBytes: 2 } } }],
    [{ device: { memory: { totalBytes: '2048' } } }, { device: { model: 'unknown', memory: { totalBytes: 2_048 } } }],
    [{ device: { model: 'lark', rooted: 'true' } }, { device: { rooted: true } }],
    [{ images: [{ name: 'libsong.so', loadAddress: '0x7F00' }] }, { images: [{ loadAddress: '0x7f00' }] }],
    [
      { trail: [{ kind: 'screen', name: 'Map' }, { kind: 'teleport' }] },
      { trail: [{ kind: 'screen', name: 'Map', at: '2026-01-02T03:04:05.000Z' }] },
    ],
    [
      { trail: Array.from({ length: 600 }, (_, at) => ({ kind: 'screen', at: '2026-01-02T03:04:05Z', name: `s${at}` })) },
      { trail: expect.objectContaining({ length: 500, 499: expect.objectContaining({ name: 's599' }) }) },
    ],
    [
      { exceptions: [{ message: 'no type' }, { type: 'B', parent: 5 }] },
      { exceptions: [{ type: 'unknown' }, { type: 'B', parent: null }] },
    ],
    [{ nonsense: 1 }, { kind: 'crash' }],
  ])('%j', (given, expected) => {
    const { item, remarks } = mended(given);
    expect(item).toMatchObject(expected);
    expect(remarks.length).toBeGreaterThan(0);
  });

  it('is told with its place, unknown fields too', () => {
    expect(mended({ colour: 'red', device: { model: 'm', wings: 2 } }).remarks).toEqual([
      'device.wings is no field here and was left out',
      'colour is no field here and was left out',
    ]);
  });

  it('in a thousand places is told once', () => {
    const frames = Array.from({ length: 1_000 }, (_, at) => ({ ...frame(at), wings: 2 }));
    expect(mended({ exceptions: [{ type: 'E', frames }] }).remarks).toEqual([
      'exceptions[0].frames[0].wings is no field here and was left out (and 999 more like it)',
    ]);
  });
});

describe('a session', () => {
  it.each<[given: object, expected: object]>([
    [{ state: 'ENDED' }, { state: 'ended' }],
    [{ state: 'flown' }, { state: 'open' }],
    [{ sequence: undefined }, { sequence: 0 }],
    [{ startedAt: undefined }, { startedAt: '2026-01-02T03:04:05.000Z' }],
    [{ durationMs: 90_000_000_000 }, { durationMs: 86_400_000 }],
    [{ durationMs: 12.4 }, { durationMs: 12 }],
    [{ attributes: { deep: { er: 1 } } }, { attributes: { 'deep.er': 1 } }],
    [{ screens: [{ name: '' }, { name: 'Map', visits: 0 }] }, { screens: [{ name: 'Map', visits: 1 }] }],
  ])('%j', (given, expected) => expect(kept<'session'>(session(given)).item).toMatchObject(expected));
});

describe('nothing can be made', () => {
  it.each([[null], [7], ['text'], [[report()]], [{}], [{ type: 'tune' }], [{ type: 'attachment', id }]])('of %j', (given) =>
    expect(mendItem(given, { ...context, text: '' }).ok).toBe(false),
  );
});

describe('an item without an id or a type', () => {
  it('is the same item when it comes again', () => {
    const { id: _id, type: _type, ...bare } = report();
    expect(kept<'report'>(bare).item.id).toBe(kept<'report'>(bare).item.id);
    expect(kept<'report'>(bare).item.id).not.toBe(kept<'report'>({ ...bare, version: '2' }).item.id);
  });
});

describe('JSON that is none', () => {
  it.each<[text: string, value: unknown]>([
    ['{"a":NaN,"b":[Infinity,-Infinity,1],"c":undefined}', { a: null, b: [null, null, 1], c: null }],
    ['\ufeff{"a":1}', { a: 1 }],
    ['{"a":"two\tNaN","b":nan}', { a: 'two\tNaN', b: null }],
  ])('%s', (text, value) => expect(parseLenientJson(text)).toEqual({ value, mended: true }));

  it.each(['{"a":', '', 'NaN NaN', '{"a":"'])('%s stays none', (text) => expect(() => parseLenientJson(text)).toThrow(SyntaxError));
});

describe('any JSON at all', () => {
  it('in any place of a report leaves a report', () => {
    const places = [
      'attributes',
      'flags',
      'trail',
      'exceptions',
      'threads',
      'images',
      'sections',
      'os',
      'device',
      'locale',
      'sessionId',
      'remarks',
      'version',
      'occurredAt',
      'kind',
      'id',
    ];
    fc.assert(
      fc.property(fc.constantFrom(...places), fc.jsonValue({ maxDepth: 4 }), (place, value) => {
        const { item } = mended({ [place]: value });
        expect(item.build.length).toBeGreaterThan(0);
        expect(JSON.stringify(item).length).toBeLessThan(reportLimits.bodyCharacters);
      }),
      { numRuns: 1_000 },
    );
  });

  it('within the elements of its lists leaves a report', () => {
    const lists = ['trail', 'exceptions', 'threads', 'images', 'sections'];
    fc.assert(
      fc.property(
        fc.constantFrom(...lists),
        fc.array(
          fc.dictionary(
            fc.constantFrom('kind', 'at', 'name', 'type', 'frames', 'registers', 'text', 'parent', 'runtime'),
            fc.jsonValue({ maxDepth: 3 }),
          ),
        ),
        (list, value) => {
          expect(mended({ [list]: value }).item.id).toBe(id);
        },
      ),
      { numRuns: 1_000 },
    );
  });
});
