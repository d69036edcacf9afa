import { randomUUID } from 'node:crypto';
import { defaultScope, type Scope } from '@rough-ember/core/scope/scope';
import { parseSequence } from '@rough-ember/core/sequences/sequence';
import { onlyCrashes } from '@rough-ember/core/stability/figures';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { loadSession } from '../stability/sessions.ts';
import { startTestServer, type TestServer } from '../testing/test-server.ts';
import { loadWays } from './load-ways.ts';

let server: TestServer;

const tiles = { method: 'GET', host: 'tiles.larkfield.example', path: '/t/{z}/{x}' } as const;

interface Walk {
  readonly screens: string;
  readonly sessions: number;
  readonly crashes?: boolean;
  readonly tells?: boolean;
  readonly version?: string;
}

/** Sessions through screens, a second on each, that crash on the last one or end well. */
function walks({ screens, sessions, crashes = false, tells = true, version = '4.3.0' }: Walk): object[] {
  return Array.from({ length: sessions }, (_, at) => {
    const id = randomUUID();
    const startedAt = Date.now() - 3 * 3_600_000 - at * 60_000;
    const when = (ms: number) => new Date(startedAt + ms).toISOString();
    const about = { version, build: '1', installationId: randomUUID() };
    const trail = screens.split(' ').map((name, place) => ({ kind: 'screen', at: when(1_000 * place), name }));
    const session = {
      type: 'session',
      id,
      sequence: 1,
      at: when(30_000),
      startedAt: when(0),
      state: 'ended',
      durationMs: 30_000,
      ...about,
    };
    const report = {
      ...{ type: 'report', id: randomUUID(), kind: 'crash', occurredAt: when(1_000 * trail.length), sessionId: id, ...about },
      exceptions: [{ type: 'java.lang.Error', stack: 'java.lang.Error\n\tat com.larkfield.Map.draw(Map.java:3)' }],
      // What a report tells of the session before is not of this one.
      trail: [{ kind: 'screen', at: when(-600_000), name: 'Yesterday' }, ...trail],
    };
    return crashes ? [session, report] : [{ ...session, ...(tells && { trail }) }];
  }).flat();
}

const ask = (sequence: string, scope: Partial<Scope> = {}) => {
  const read = parseSequence(sequence);
  const query = { app: server.app, scope: { ...defaultScope, ...scope }, count: onlyCrashes, now: new Date(), look: '500' as const };
  return loadWays(server.services, { ...query, sequence: read.ok ? read.value : null });
};

beforeAll(async () => {
  server = await startTestServer();
  await server.sendItems([
    ...walks({ screens: 'Home Map Offline', sessions: 40, crashes: true }),
    ...walks({ screens: 'Home Settings Offline', sessions: 8, crashes: true }),
    ...walks({ screens: 'Home Map Offline Home', sessions: 30 }),
    ...walks({ screens: 'Home Settings Offline Home', sessions: 60 }),
    ...walks({ screens: 'Home Map', sessions: 60, version: '4.2.0' }),
    // As many that tell nothing of their way.
    ...walks({ screens: 'Home', sessions: 150, tells: false }),
  ]);
});
afterAll(() => server.stop());

describe('the ways through an app', () => {
  it('are told by how often they end in a crash, estimated for the sessions that tell nothing', async () => {
    const { ways, totals, looked, cut } = await ask('');
    expect({ totals, looked, cut }).toEqual({
      totals: { crashed: 48, hung: 0, killed: 0, ended: 300 },
      looked: { crashed: 48, hung: 0, killed: 0, ended: 150 },
      cut: false,
    });
    const way = ways.find(({ screens }) => screens.join() === 'Map,Offline');
    expect(way).toMatchObject({ verdict: 'worse', looked: 40, people: 40 });
    expect(way?.sessions).toBeCloseTo(40 + 2 * 30);
    expect(way?.risk.value).toBeCloseTo(0.4);
    expect(way?.riskElsewhere.value).toBeCloseTo(8 / (8 + 2 * 60));
    expect(ways.flatMap(({ screens }) => screens)).not.toContain('Yesterday');
  });

  it('are followed step by step, with the sessions that went them', async () => {
    const { sequence, funnel, sessions, steps } = await ask('screen map, screen Offline within 5 s then crash');
    expect(sequence).toBe('screen map then screen Offline within 5 s then crash');
    expect(funnel.map(({ looked }) => looked)).toEqual([130, 70, 40]);
    expect(funnel[1]?.lost.ended.value).toBeCloseTo(0.6);
    expect(funnel[1]?.instead).toEqual([{ step: 'screen Home', looked: 30 }]);
    expect(sessions).toHaveLength(40);
    expect(new Set(sessions.map(({ state }) => state))).toEqual(new Set(['crashed']));
    expect(steps[0]).toEqual({ step: 'screen Home', looked: 198 });
  });

  it('obey the scope', async () => {
    const { looked, funnel } = await ask('screen Map', { versions: { match: 'only', version: '4.2.0' } });
    expect(looked).toEqual({ crashed: 0, hung: 0, killed: 0, ended: 60 });
    expect(funnel[0]?.ofAll.value).toBe(1);
    const nothing = await ask('screen Map', { versions: { match: 'only', version: '9.9.9' } });
    expect([nothing.ways, nothing.looked.ended]).toEqual([[], 0]);
  });

  it('know what a session told by log records too, and a trail that grew once', async () => {
    const id = randomUUID();
    const at = (ms: number) => new Date(Date.now() - 60_000 + ms).toISOString();
    const item = { type: 'session', id, startedAt: at(0), version: '5.0.0', build: '5', installationId: randomUUID() };
    const screen = (name: string, ms: number) => ({ kind: 'screen', at: at(ms), name });
    const late = { kind: 'request', at: at(4_000), ...tiles, status: 504, durationMs: 800 };
    await server.sendItems([{ ...item, sequence: 1, at: at(2_000), state: 'ended', trail: [screen('Home', 0)] }]);
    await server.sendItems([
      { ...item, sequence: 2, at: at(9_000), state: 'ended', trail: [screen('Home', 0), screen('Map', 3_000), late] },
    ]);
    // The first item comes again, late.
    await server.sendItems([{ ...item, sequence: 1, at: at(2_000), state: 'ended', trail: [screen('Home', 0)] }]);
    const { moments } = await loadSession(server.services, server.app, id, new Date());
    expect(moments.flatMap((one) => (one.type === 'event' ? [one.event.kind] : []))).toEqual(['screen', 'screen', 'request']);
    const { sessions } = await ask('screen Map then request tiles 5xx within 2 s', { versions: { match: 'only', version: '5.0.0' } });
    expect(sessions.map((one) => one.id)).toEqual([id]);
  });
});
