import { randomUUID } from 'node:crypto';
import { defaultScope, type Scope } from '@rough-ember/core/scope/scope';
import { onlyCrashes } from '@rough-ember/core/stability/figures';
import { listMigrations } from '@rough-ember/store/migrate';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { loadNow } from '../now/load-now.ts';
import { startTestServer, type TestServer } from '../testing/test-server.ts';
import { loadRequests, loadScreens } from './app-activity.ts';
import { loadCrashFree } from './crash-free.ts';
import { loadSession, loadSessions } from './sessions.ts';

let server: TestServer;

const tiles = { method: 'GET', host: 'tiles.larkfield.example', path: '/t/{z}/{x}' } as const;

/** Sessions that show a screen, of which some crash there, most of these after tiles were late. */
function story(screen: string, { sessions, crashed, late }: { sessions: number; crashed: number; late: number }): object[] {
  return Array.from({ length: sessions }, (_, at) => {
    const id = randomUUID();
    const startedAt = Date.now() - 3_600_000 - at * 1_000;
    const when = (ms: number) => new Date(startedAt + ms).toISOString();
    const about = { version: at % 2 === 0 ? '4.2.0' : '4.3.0', build: '1', installationId: randomUUID() };
    const isLate = at < late;
    const session = {
      ...{ type: 'session', id, sequence: 1, at: when(30_000), startedAt: when(0), state: 'ended', durationMs: 30_000, ...about },
      screens: [{ name: 'home' }, { name: screen, visits: 2 }],
      requests: [{ ...tiles, count: 3, failed: isLate ? 1 : 0, durations: [{ bucket: 60, count: 2 }] }],
    };
    const report = {
      ...{ type: 'report', id: randomUUID(), kind: 'crash', occurredAt: when(20_000), sessionId: id, ...about },
      exceptions: [
        { type: 'java.lang.IllegalStateException', stack: `java.lang.IllegalStateException\n\tat com.larkfield.${screen}(A.java:7)` },
      ],
      trail: [
        { kind: 'screen', at: when(1_000), name: 'home' },
        { kind: 'request', at: when(8_000), ...tiles, status: isLate ? 504 : 200, durationMs: 180 },
        { kind: 'screen', at: when(9_000), name: screen },
      ],
    };
    return at < crashed ? [session, report] : [session];
  }).flat();
}

const query = (scope: Partial<Scope> = {}) => ({
  app: server.app,
  scope: { ...defaultScope, ...scope },
  count: onlyCrashes,
  exact: 'at-once' as const,
  now: new Date(),
});

beforeAll(async () => {
  server = await startTestServer();
  const inferred = { type: 'report', id: randomUUID(), kind: 'crash', occurredAt: new Date().toISOString(), version: '4.2.0', build: '1' };
  const items = [
    ...story('Nest.build', { sessions: 200, crashed: 40, late: 36 }),
    ...story('Perch.sit', { sessions: 400, crashed: 20, late: 1 }),
    { ...inferred, exceptions: [{ type: 'java.lang.Error', stack: 'java.lang.Error\n\tat com.larkfield.Owl.wake(Owl.java:3)' }] },
  ];
  await server.sendItems(items);
});
afterAll(() => server.stop());

describe('screens of the app', () => {
  it('are told with their use, what crashes on them by version, and in which cases', async () => {
    const { screens, versions, reportsElsewhere, persons, error } = await loadScreens(server.services, query());
    expect({ versions, reportsElsewhere, persons, error }).toEqual({
      versions: ['4.2.0', '4.3.0'],
      reportsElsewhere: 1,
      persons: 600,
      error: 0,
    });
    expect(screens.find((one) => one.screen === 'Nest.build')).toEqual({
      ...{ screen: 'Nest.build', visits: 400, sessions: 200, persons: 200, reports: 40, people: 40, verdict: 'worse' },
      versions: [
        { visits: 200, reports: 20 },
        { visits: 200, reports: 20 },
      ],
      cases: [{ ref: expect.stringMatching(/^LG-\d$/), what: 'IllegalStateException', where: 'Nest.build', reports: 40 }],
    });
    expect(screens.find((one) => one.screen === 'home')).toMatchObject({ visits: 600, reports: 0, verdict: 'better', cases: [] });
  });

  it('obey the scope, and say what of it sessions cannot be asked for', async () => {
    const filter: Scope['filter'] = { kind: 'restriction', field: 'screen', key: null, comparator: '=', value: 'Nest.build', at: 0 };
    const { screens, unasked, reportsElsewhere } = await loadScreens(
      server.services,
      query({ versions: { match: 'only', version: '4.3.0' }, filter }),
    );
    expect(unasked).toEqual(['screen = Nest.build']);
    expect(reportsElsewhere).toBe(0);
    expect(screens.find((one) => one.screen === 'Nest.build')).toMatchObject({ visits: 200, reports: 20 });
    expect(screens.find((one) => one.screen === 'Perch.sit')).toMatchObject({ visits: 400, reports: 0 });
  });

  it('leave what names no session, or one that is never told, to be said beside', async () => {
    expect((await loadCrashFree(server.services, query())).outside).toEqual({ noSession: 1, inferred: 0 });
    const about = { version: '4.2.0', build: '1', installationId: randomUUID(), occurredAt: new Date().toISOString() };
    const report = { type: 'report', id: randomUUID(), kind: 'crash', sessionId: randomUUID(), exceptions: [{ type: 'java.lang.Error' }] };
    await server.sendItems([{ ...report, ...about }]);
    const { outside, total } = await loadCrashFree(server.services, query());
    expect({ outside, sessions: total.sessions }).toEqual({ outside: { noSession: 1, inferred: 1 }, sessions: 600 });
    const item = { type: 'session', id: report.sessionId, sequence: 0, at: about.occurredAt, startedAt: about.occurredAt };
    await server.sendItems([{ ...item, ...about, occurredAt: undefined }]);
    const told = await loadCrashFree(server.services, query());
    expect({ outside: told.outside, sessions: told.total.sessions }).toEqual({ outside: { noSession: 1, inferred: 0 }, sessions: 601 });
  });

  it('that crash more than the others are told on Now', async () => {
    const { worstScreens } = await loadNow(server.services, server.app, { since: null, now: new Date() });
    expect(worstScreens.map((one) => one.screen)).toEqual(['Nest.build']);
  });

  it('are found for reports of before, which are looked at again', async () => {
    const withScreens = async () => (await loadScreens(server.services, query())).screens.filter((one) => one.reports > 0).length;
    const again = listMigrations().find((one) => one.name === '070-terms-with-screens');
    await server.database('report_terms').delete();
    await server.database.raw(again?.sql ?? '');
    await server.settled();
    expect(await withScreens()).toBe(2);
    expect(await server.database('report_terms').count('* as rows')).toEqual([{ rows: 62 }]);
  });
});

it('a session without a report tells what it did all the same', async () => {
  const { sessions } = await loadSessions(server.services, { ...query(), end: 'any' });
  const quiet = sessions.find((one) => one.state === 'ended') as (typeof sessions)[number];
  const { screens, requests, hasTrail } = await loadSession(server.services, server.app, quiet.id, new Date());
  expect({ screens: screens.map((one) => one.visits), hasTrail }).toEqual({ screens: [1, 2], hasTrail: false });
  expect(requests).toEqual([{ ...tiles, count: 3, failed: expect.any(Number) }]);
});

describe('requests of the app', () => {
  it('are told with their failures, durations, and the cases that follow', async () => {
    const { requests } = await loadRequests(server.services, query());
    expect(requests).toHaveLength(1);
    expect(requests[0]).toMatchObject({
      ...{ request: 'GET tiles.larkfield.example/t/{z}/{x}', count: 1_800, failed: 37, persons: 600, timed: 1_200, reportsAfter: 37 },
      cases: [{ where: 'Nest.build', reports: 36, ofCase: 40 }],
    });
    expect(requests[0]?.medianMs).toBeCloseTo(2 ** (60.5 / 8));
  });
});

it('names made up by the thousand do not fill the answer, and what crashed stays in it', async () => {
  const at = new Date(Date.now() - 120_000).toISOString();
  const about = { version: '0.9.0', build: '1', installationId: randomUUID(), startedAt: at, at };
  const items = Array.from({ length: 12 }, (_, run) => ({
    ...{ type: 'session', id: randomUUID(), sequence: 1, state: 'ended', durationMs: 1_000, ...about },
    screens: Array.from({ length: 95 }, (_, one) => ({ name: `bird-${run}-${one}`, visits: one < 90 ? 5 : 1 })),
    requests: Array.from({ length: 95 }, (_, one) => ({ ...tiles, path: `/birds/b${run}x${one}`, count: 1, failed: 0, durations: [] })),
  }));
  const trouble = { kind: 'crash', exceptions: [{ type: 'java.lang.Error' }], trail: [{ kind: 'screen', at, name: 'bird-3-94' }] };
  await server.sendItems([
    ...items,
    { type: 'report', id: randomUUID(), sessionId: items[3]?.id, occurredAt: at, version: '0.9.0', build: '1', ...trouble },
  ]);
  const scope: Partial<Scope> = { versions: { match: 'only', version: '0.9.0' } };
  const { screens, leftOut } = await loadScreens(server.services, query(scope));
  expect({ shown: screens.length, leftOut, first: screens[0]?.screen }).toEqual({ shown: 1_000, leftOut: 140, first: 'bird-3-94' });
  const { requests, leftOut: requestsLeftOut } = await loadRequests(server.services, query(scope));
  expect({ shown: requests.length, left: requestsLeftOut }).toEqual({ shown: 1_000, left: 140 });
});
