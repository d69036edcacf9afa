import { type Scope, wholeScope } from '@rough-ember/core/scope/scope';
import { parseDay } from '@rough-ember/core/session-index/person-day';
import { type Counts, noCounts } from '@rough-ember/core/session-index/tally';
import { retried } from '@rough-ember/store/database';
import { dropRawSessions, dropSessionSums } from '@rough-ember/store/session-feed';
import fc from 'fast-check';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { compareFigures } from '../compare-figures.ts';
import { forgetPerson } from '../desk/person.ts';
import { startTestServer, type TestServer } from '../testing/test-server.ts';
import { type SessionIndexes, startSessionIndexes } from './session-indexes.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
});
afterAll(() => server.stop());

const today = new Date(`${new Date().toISOString().slice(0, 10)}T09:00:00Z`).getTime();
const dayMs = 86_400_000;
const span = {
  first: parseDay(new Date(today - 20 * dayMs).toISOString().slice(0, 10)),
  last: parseDay(new Date(today).toISOString().slice(0, 10)),
};
const uuid = (kind: number, index: number) =>
  `0192d3a4-5b6c-4d7e-8${String(kind).padStart(3, '0')}-${index.toString(16).padStart(12, '0')}`;

/** Items of one session and the report of its crash, as a device has them: they may be sent in any order and more than once. */
const anySession = fc.record({
  index: fc.nat(11),
  version: fc.constantFrom('4.2.0', '4.3.0'),
  model: fc.constantFrom('6a', 'Go 3'),
  daysAgo: fc.nat(3),
  installation: fc.nat(4),
  person: fc.option(fc.nat(2)),
  knownLater: fc.boolean(),
  ending: fc.constantFrom('ended', 'crash', 'crash at the start', 'hung', 'killed'),
  errors: fc.nat(1),
});

type Drawn = typeof anySession extends fc.Arbitrary<infer Session> ? Session : never;

function itemsOf({ index, version, model, daysAgo, installation, person, knownLater, ending, errors }: Drawn): object[] {
  // Some go on over midnight: they count for the day they began.
  const startedAt = today - daysAgo * dayMs - (index % 3 === 0 ? 9 * 3_600_000 + 60_000 : 0);
  const about = (personId: string | null) => ({
    version,
    build: '1',
    device: { manufacturer: 'Brill', model },
    os: { name: 'Android', version: '14' },
    installationId: uuid(2, installation),
    personId,
    flags: { 'night-map': index % 2 === 0 ? 'on' : 'off' },
  });
  const at = (ms: number) => new Date(startedAt + ms).toISOString();
  const personId = person === null ? null : `warden-${person}`;
  const item = (sequence: number, ms: number, state: string) => ({
    type: 'session',
    id: uuid(1, index),
    sequence,
    at: at(ms),
    startedAt: at(0),
    state,
    durationMs: ms,
    errors: sequence > 0 ? errors : 0,
    screens: [{ name: 'home', visits: 1 + sequence }, ...(sequence > 0 ? [{ name: model, visits: 1 + (index % 3) }] : [])],
    requests: [
      { method: 'GET', host: 'tiles.larkfield.example', path: `/t/${index}`, count: 2 + sequence, failed: sequence * (index % 2) },
    ],
    // Who it is may be told only after the app has started; the session stays with whom it began.
    ...about(sequence > 0 || !knownLater ? personId : null),
  });
  const crashMs = ending === 'crash at the start' ? 1_000 : 60_000;
  const isCrash = ending.startsWith('crash');
  return [
    item(0, 0, 'open'),
    item(1, 120_000, isCrash ? 'open' : ending),
    ...(isCrash
      ? [
          {
            type: 'report',
            id: uuid(3, index),
            kind: 'crash',
            occurredAt: at(crashMs),
            sessionId: uuid(1, index),
            exceptions: [{ type: 'java.lang.Error', message: `no perch ${index}` }],
            ...about(personId),
          },
        ]
      : []),
  ];
}

const hasVersion = (value: string): Scope['filter'] => ({
  kind: 'restriction',
  field: 'version',
  key: null,
  comparator: '=',
  value,
  at: 0,
});

interface Truth {
  readonly sessions: number;
  readonly crashed: number;
  readonly hung: number;
  readonly killed: number;
  readonly crashedAtStart: number;
  readonly withErrors: number;
  readonly persons: number;
  readonly personsCrashed: number;
}

/** What the database itself says of the raw sessions. */
async function counted(where = '1', values: readonly string[] = []): Promise<Truth> {
  const [[row]] = await server.database.raw(
    `SELECT COUNT(*) AS sessions, SUM(state = 'crashed') AS crashed, SUM(state = 'hung') AS hung, SUM(state = 'killed') AS killed,
       SUM(state = 'crashed' AND crashed_at >= started_at AND crashed_at < started_at + INTERVAL 5 SECOND) AS crashedAtStart, SUM(errors > 0) AS withErrors,
       COUNT(DISTINCT person_key) AS persons, COUNT(DISTINCT IF(state = 'crashed', person_key, NULL)) AS personsCrashed
     FROM sessions WHERE app_id = ? AND started AND ${where}`,
    [server.app.id, ...values],
  );
  return Object.fromEntries(Object.entries(row).map(([name, value]) => [name, Number(value ?? 0)])) as unknown as Truth;
}

const only = (counts: Counts): Truth => {
  const { personsHung: _hung, personsKilled: _killed, newPersons: _new, effects: _effects, ...rest } = counts;
  return rest;
};

/** The screens of the raw sessions, as the database reads them out of what their last items told. */
async function countedScreens(where: string, values: readonly string[]) {
  const [rows] = (await server.database.raw(
    `SELECT screen, SUM(told.visits) AS visits, COUNT(DISTINCT session_id) AS sessions, COUNT(DISTINCT person_key) AS persons
     FROM sessions, JSON_TABLE(body, '$.screens[*]' COLUMNS (screen VARCHAR(300) PATH '$.name', visits INT PATH '$.visits')) AS told
     WHERE app_id = ? AND started AND ${where} GROUP BY screen ORDER BY screen`,
    [server.app.id, ...values],
  )) as [Record<string, string | number>[]];
  return rows.map(({ screen, visits, sessions, persons }) => ({ screen, visits: Number(visits), sessions, persons }));
}

async function screensAgree(sessions: SessionIndexes, filter: Scope['filter'], where = '1', values: readonly string[] = []): Promise<void> {
  const { screens } = await sessions.ask('screens', server.app.id, { ...wholeScope, filter }, span);
  const found = screens.map(({ screen, visits, sessions, persons }) => ({ screen, visits, sessions, persons }));
  expect(found.sort((a, b) => (a.screen < b.screen ? -1 : 1))).toEqual(await countedScreens(where, values));
}

async function requestsAgree(sessions: SessionIndexes): Promise<void> {
  const [[row]] = await server.database.raw(
    `SELECT SUM(told.asked) AS asked, SUM(told.failed) AS failed, COUNT(DISTINCT person_key) AS persons
     FROM sessions, JSON_TABLE(body, '$.requests[*]' COLUMNS (asked INT PATH '$.count', failed INT PATH '$.failed')) AS told
     WHERE app_id = ? AND started`,
    [server.app.id],
  );
  const { requests } = await sessions.ask('requests', server.app.id, wholeScope, span);
  expect(requests.map(({ request, count, failed, persons }) => ({ request, count, failed, persons }))).toEqual(
    row.asked === null
      ? []
      : [
          {
            request: 'GET tiles.larkfield.example/t/{number}',
            count: Number(row.asked),
            failed: Number(row.failed),
            persons: row.persons,
          },
        ],
  );
}

async function agree(sessions: SessionIndexes = server.services.sessions): Promise<void> {
  await sessions.ask('lookNow', server.app.id);
  const version = { field: 'version', key: '' } as const;
  const device = { field: 'device.model', key: '' } as const;
  const matrix = await sessions.ask('matrix', server.app.id, wholeScope, span, version, device);
  expect(only(matrix.total)).toEqual(await counted());
  for (const [row, name] of matrix.rows.entries()) {
    expect(only(matrix.ofRows[row] ?? noCounts)).toEqual(await counted('version = ?', [name]));
    for (const [column, model] of matrix.columns.entries())
      expect(only(matrix.cells[row * matrix.columns.length + column] ?? noCounts)).toEqual(
        await counted('version = ? AND device_model = ?', [name, model]),
      );
  }
  const flagged = await sessions.ask('matrix', server.app.id, wholeScope, span, { field: 'flags', key: 'night-map' }, null);
  expect(flagged.ofRows.reduce((sum, one) => sum + one.sessions, 0)).toBe(matrix.total.sessions);
  const [[row]] = await server.database.raw(
    `SELECT SUM(state = 'crashed') AS crashed, SUM(state = 'hung') AS hung, SUM(state = 'killed') AS killed
     FROM sessions WHERE app_id = ? AND NOT started`,
    [server.app.id],
  );
  const inferred = Object.fromEntries(Object.entries(row).map(([name, count]) => [name, Number(count ?? 0)]));
  expect(await sessions.ask('inferred', server.app.id, wholeScope, span)).toEqual(inferred);
  await screensAgree(sessions, null);
  await screensAgree(sessions, hasVersion('4.3.0'), 'version = ?', ['4.3.0']);
  await requestsAgree(sessions);
  const course = await sessions.ask('dailySessions', server.app.id, wholeScope, span, null);
  for (const [offset, day] of (course.days[0] ?? []).entries()) {
    const date = new Date((span.first + offset) * dayMs).toISOString().slice(0, 10);
    expect(only(day)).toEqual(await counted('day = ?', [date]));
  }
}

it('figures equal those of the raw sessions, whatever order, repetition or delay they arrive in', async () => {
  await fc.assert(
    fc.asyncProperty(
      fc.uniqueArray(anySession, { minLength: 4, maxLength: 12, selector: (one) => one.index }),
      fc.infiniteStream(fc.nat(1_000_000)),
      async (sessions, numbers) => {
        // Reports of the run before may still be processed.
        for (const table of ['sessions', 'reports']) await retried(() => server.database(table).where({ app_id: server.app.id }).delete());
        const next = () => numbers.next().value as number;
        const items = sessions.flatMap(itemsOf);
        const deliveries = [...items, ...items.filter(() => next() % 3 === 0)]
          .map((item) => ({ item, at: next() }))
          .sort((a, b) => a.at - b.at)
          .map(({ item }) => item);
        while (deliveries.length > 0) {
          const lines = deliveries.splice(0, 1 + (next() % 5)).map((item) => JSON.stringify(item));
          expect((await server.send('/intake/v1/batch', lines.join('\n'))).status).toBe(202);
          if (next() % 2 === 0) await agree();
        }
        await agree();
      },
    ),
    { numRuns: 12 },
  );
});

it('a transaction that is held for as long as a backup takes is counted when it commits, by every process', async () => {
  const other = startSessionIndexes(server.database);
  await agree(other);
  const held = await server.database.transaction();
  // The statement is dated two minutes back, as it is when the commit had to wait for so long.
  await held.raw('SET SESSION timestamp = UNIX_TIMESTAMP() - 120');
  await held.raw(
    `INSERT INTO sessions (app_id, session_id, started, excluded, state, started_at, last_at, duration_ms, errors, first_sequence, last_sequence,
       version, version_key, build, build_type, os_name, os_version, device_model, body, person_key, installation_id, received_at)
     SELECT app_id, UNHEX(REPLACE(UUID(), '-', '')), 1, 0, 'crashed', started_at, last_at, 0, 1, 0, 1,
       version, version_key, build, build_type, os_name, os_version, device_model, body, person_key, installation_id, received_at FROM sessions WHERE app_id = ? AND started LIMIT 1`,
    [server.app.id],
  );
  await held.raw('SET SESSION timestamp = DEFAULT');
  expect(
    (await server.send('/intake/v1/batch', JSON.stringify(itemsOf(fc.sample(anySession, { numRuns: 1, seed: 7 })[0] as Drawn)[0]))).status,
  ).toBe(202);
  await agree();
  await agree(other);
  await server.services.sessions.ask('keepAll', 0);
  await held.commit();
  await agree();
  await agree(other);
  await other.close();
});

it('figures that differ from the database are put right, and it is told how many', async () => {
  await agree();
  expect(await compareFigures(server.services)).toBe(0);
  // Nobody tells of a change: what no transaction of ours does.
  await server.database.raw(
    `UPDATE sessions SET state = 'crashed', errors = errors + 1 WHERE app_id = ? AND started AND state <> 'crashed' LIMIT 1`,
    [server.app.id],
  );
  const report = await server.database('reports').where({ app_id: server.app.id }).first('id');
  if (report)
    await server
      .database('reports')
      .where({ id: report.id })
      .update({ excluded: server.database.raw('NOT excluded') });
  await server.database('changes').delete();
  await expect(agree()).rejects.toThrow();
  expect(await compareFigures(server.services)).toBeGreaterThan(0);
  await agree();
  expect(await compareFigures(server.services)).toBe(0);
});

it('sums of another layout are made anew', async () => {
  await agree();
  await server.services.sessions.ask('keepAll', 0);
  await server.database('session_sums').update({ layout: 999 });
  await server.database('session_days').update({ content: Buffer.from('of another layout') });
  const again = startSessionIndexes(server.database);
  await agree(again);
  await again.close();
});

it('sums that were kept, and sums that are made anew, say the same as what grew in memory', async () => {
  await agree();
  await server.services.sessions.ask('keepAll', 0);
  const fromKept = startSessionIndexes(server.database);
  await agree(fromKept);
  await dropSessionSums(server.database, server.app.id);
  await agree(fromKept);
  await agree();
  await fromKept.close();
});

it('sums outlive the sessions they were made of, and somebody is forgotten in them all the same', async () => {
  const { sessions } = server.services;
  const items = [
    itemsOf({
      index: 99,
      version: '4.2.0',
      model: '6a',
      daysAgo: 2,
      installation: 0,
      person: 99,
      knownLater: false,
      ending: 'crash',
      errors: 0,
    }),
  ];
  await server.send(
    '/intake/v1/batch',
    items
      .flat()
      .map((item) => JSON.stringify(item))
      .join('\n'),
  );
  const total = async (of: SessionIndexes) => {
    await of.ask('lookNow', server.app.id);
    return (await of.ask('matrix', server.app.id, wholeScope, span, null, null)).total;
  };
  const before = await total(sessions);
  await sessions.ask('keepAll', 0);
  expect(await dropRawSessions(server.database, server.app.id, span.last + 1, 1_000)).toBe(before.sessions);
  expect(await total(sessions)).toEqual(before);
  const later = startSessionIndexes(server.database);
  expect(await total(later)).toEqual(before);
  await forgetPerson(server.services, server.app, 'warden-99');
  const after = await total(later);
  expect(after.persons).toBe(before.persons - 1);
  expect(after.crashed).toBeLessThan(before.crashed);
  await later.close();
});
