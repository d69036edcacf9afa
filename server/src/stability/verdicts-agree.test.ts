import { randomUUID } from 'node:crypto';
import { dayMs } from '@rough-ember/core/durations';
import { parseFilter } from '@rough-ember/core/scope/filter/parse-filter';
import { defaultScope, type Scope } from '@rough-ember/core/scope/scope';
import { wordCondition } from '@rough-ember/core/stability/check-words';
import { wordComparison } from '@rough-ember/core/stability/comparison-words';
import { onlyCrashes } from '@rough-ember/core/stability/figures';
import { Random } from '@rough-ember/demo/random';
import { retried } from '@rough-ember/store/database';
import fc from 'fast-check';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { loadNow } from '../now/load-now.ts';
import { startTestServer, type TestServer } from '../testing/test-server.ts';
import { loadRolloutCheck, loadVersionList } from '../versions/load-versions.ts';
import { loadWall } from '../wall/load-wall.ts';
import { compareSides, loadCrashFree } from './crash-free.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
});
afterAll(() => server.stop());

const versions = ['4.1.0', '4.2.0', '4.3.0-rc.1', '4.3.0'] as const;
const models = ['Brill 6a', 'Tarn Go 3'] as const;

/** Sessions of some people on some days; who crashes tends to crash again. */
function draw(seed: number, { people, perThousand }: { people: number; perThousand: number }): object[] {
  const random = new Random(seed);
  return Array.from({ length: people }, () => {
    const about = {
      installationId: random.uuid(),
      device: { model: random.pick(models) },
      country: random.pick(['NO', 'GB']),
      os: { name: 'Android', version: '15' },
    };
    const risk = random.next() < 0.3 ? 3 : 0.2;
    return Array.from({ length: 1 + random.below(5) }, () => {
      const startedAt = new Date(Date.now() - random.next() ** 2 * 12 * dayMs - 60_000).toISOString();
      const state = random.next() < (risk * perThousand) / 1_000 ? 'crashed' : 'ended';
      const version = random.pick(versions);
      return {
        type: 'session',
        id: randomUUID(),
        sequence: 1,
        at: startedAt,
        startedAt,
        state,
        durationMs: 30_000,
        version,
        build: '1',
        ...about,
      };
    });
  }).flat();
}

function filtered(text: string): Scope {
  const parsed = parseFilter(text);
  if (!parsed.ok) throw new Error(parsed.problem.message);
  return { ...defaultScope, filter: parsed.value };
}

it('every screen, the API and the command line say the same of two versions, whatever was delivered', async () => {
  const { services, app } = server;
  const anyDelivery = fc.record({
    seed: fc.nat(1_000_000),
    people: fc.integer({ min: 3, max: 260 }),
    perThousand: fc.constantFrom(0, 20, 200),
    scope: fc.constantFrom(defaultScope, filtered('device.model = "Tarn Go 3"'), { ...defaultScope, builds: 'any' as const }),
    hangs: fc.boolean(),
  });
  await fc.assert(
    fc.asyncProperty(anyDelivery, async ({ seed, people, perThousand, scope, hangs }) => {
      for (const table of ['sessions', 'reports']) await retried(() => server.database(table).where({ app_id: app.id }).delete());
      await services.sessions.ask('mend', app.id);
      await server.sendItems(draw(seed, { people, perThousand }));
      const now = new Date();
      const list = await loadVersionList(services, app, now);
      const news = await loadNow(services, app, { since: null, now });
      const wall = await loadWall(services, { id: 1, name: 'hall', appIds: null } as never, null, now);
      const whole = await loadCrashFree(services, { app, scope: defaultScope, now, count: onlyCrashes, exact: 'at-once' });
      expect(news.newest?.comparison).toEqual(list.versions.find((one) => one.version === news.newest?.version)?.comparison);
      expect(wall.shown?.newest?.comparison).toEqual(news.newest?.comparison);
      for (const { version, comparison, counts } of list.versions) {
        if (counts.sessions === 0) continue;
        expect(whole.byVersion.find((one) => one.version === version)?.comparison ?? null).toEqual(comparison);
        const check = await loadRolloutCheck(services, app, { version, now });
        expect(check.comparison).toEqual(comparison);
        const notWorse = check.conditions.find((one) => one.condition === 'not-worse');
        // What the command line prints is what the page prints.
        if (comparison && notWorse) expect(wordCondition(notWorse)).toContain(wordComparison(comparison.sessions, comparison));
      }
      const count = { hangs, kills: false };
      const narrowed = await loadCrashFree(services, { app, scope, now, count, exact: 'at-once' });
      for (const { version, comparison } of narrowed.byVersion) {
        if (!comparison) continue;
        const sides = await compareSides(services, { app, scope, now, count, exact: 'at-once' }, { field: 'version', key: '' }, [
          comparison.than,
          version,
        ]);
        expect(sides.versions).toEqual(comparison);
        expect(sides.comparison).toEqual(comparison.sessions);
      }
    }),
    { numRuns: 8 },
  );
});
