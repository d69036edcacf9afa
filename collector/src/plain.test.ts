import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { plain } from './plain.ts';
import { startCollector } from './start-collector.ts';
import { memoryStorage } from './storage.ts';

const around: Record<string, unknown> = { name: 'a' };
around.self = around;
const failing = {
  good: 1,
  get bad() {
    throw new Error('no');
  },
};

describe('what JSON cannot hold', () => {
  it.each<[unknown, unknown]>([
    [around, { name: 'a', self: '…' }],
    [failing, { good: 1, bad: '…' }],
    [Number.NaN, 'NaN'],
    [12n, '12'],
    [new Date('2026-01-02T03:04:05Z'), '2026-01-02T03:04:05.000Z'],
    [new Map([['a', new Set([1])]]), { a: [1] }],
    [{ f: () => {}, s: Symbol('x') }, {}],
    [
      [undefined, () => {}],
      [null, null],
    ],
    ['x'.repeat(100_000), 'x'.repeat(65_536)],
  ])('is made plain: %#', (value, expected) => expect(JSON.parse(JSON.stringify(plain(value)))).toEqual(expected));

  it('is what anything becomes', () => {
    fc.assert(
      fc.property(
        fc.anything({ withBigInt: true, withDate: true, withMap: true, withSet: true, withSparseArray: true }),
        (value) => void JSON.stringify(plain(value)),
      ),
    );
  });
});

describe('the collector', () => {
  const options = { server: 'http://127.0.0.1:9', key: 'k', version: '1', build: '1', uncaught: false, watch: false } as const;
  it('lets nothing of its own reach the app, whatever it is given', async () => {
    const full = {
      get: () => '{"half":',
      set: () => {
        throw new Error('no room');
      },
    };
    for (const storage of [memoryStorage(), full]) {
      const collector = startCollector({ ...options, storage, stateAtCrash: () => around as never });
      const hostile = new Proxy(
        {},
        {
          get: () => {
            throw new Error('never');
          },
          ownKeys: () => {
            throw new Error('never');
          },
        },
      );
      for (const given of [around, failing, hostile, null, undefined, 7n, Symbol('s')]) {
        collector.report(given, { attributes: { given } as never });
        collector.note(given as never, given as never);
        collector.screen(given as never);
        collector.attribute('given', given as never);
        collector.flag('given', given as never);
        collector.person(given as never);
      }
      collector.report(new Error('at last'));
      await collector.flush();
      await collector.stop();
    }
  });
});
