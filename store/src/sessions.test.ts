import { randomBytes } from 'node:crypto';
import { fitReport } from '@rough-ember/core/report/mend/fit-report';
import { reportSchema } from '@rough-ember/core/report/report';
import { joinSessions, knownSession, type SessionItem, sessionItemSchema } from '@rough-ember/core/report/session';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { type App, createApp } from './apps.ts';
import type { Database } from './database.ts';
import { storeItems } from './intake-items.ts';
import { toStorable } from './reports.ts';
import { freshDatabase } from './testing/fresh-database.ts';

let database: Database;
let remove: () => Promise<void>;
beforeAll(async () => {
  ({ database, remove } = await freshDatabase());
});
afterAll(() => remove());

let apps = 0;
const newApp = async (): Promise<App> => {
  apps++;
  const app = await createApp(database, { slug: `app-${apps}`, name: `App ${apps}`, prefix: `A${apps}`, platforms: [], ourPackages: [] });
  if (!app) throw new Error('the app was not made');
  return app;
};

const uuid = (kind: number, index: number): string =>
  `0192d3a4-5b6c-4d7e-8${String(kind).padStart(3, '0')}-${index.toString(16).padStart(12, '0')}`;
const minute = (at: number): string => new Date(Date.UTC(2026, 0, 1, 8, at)).toISOString();

/** Forty sessions of three items each, and crash reports of every fourth, as their devices made them. */
function story() {
  const sessions: SessionItem[] = [];
  const reports = [];
  for (let index = 0; index < 40; index++) {
    const about = {
      id: uuid(1, index),
      installationId: uuid(2, index % 11),
      build: '430',
      os: { name: 'Android', version: String(12 + (index % 3)) },
      startedAt: minute(index),
    };
    // The app was updated while the session went on: it belongs to the version it started with.
    const item = (sequence: number, more: object) =>
      sessionItemSchema.parse({
        ...about,
        version: sequence < 2 ? '4.2.0' : '4.3.0',
        sequence,
        at: minute(index + sequence),
        durationMs: sequence * 60_000,
        attributes: { step: sequence },
        ...more,
      });
    sessions.push(item(0, {}), item(1, { errors: index % 2 }), item(2, { state: index % 5 === 0 ? 'hung' : 'ended', errors: index % 2 }));
    if (index % 4 === 0)
      reports.push(
        reportSchema.parse({
          installationId: about.installationId,
          build: about.build,
          os: about.os,
          version: '4.2.0',
          id: uuid(3, index),
          kind: 'crash',
          occurredAt: minute(index + 1),
          sessionId: about.id,
        }),
      );
  }
  return { sessions, reports };
}

type Piece = { readonly session: SessionItem } | { readonly report: ReturnType<typeof story>['reports'][number] };

async function deliver(app: App, pieces: readonly Piece[], batchSize: number): Promise<void> {
  for (let at = 0; at < pieces.length; at += batchSize) {
    const batch = pieces.slice(at, at + batchSize);
    const known = new Map<string, ReturnType<typeof knownSession>>();
    for (const piece of batch) {
      if (!('session' in piece)) continue;
      const before = known.get(piece.session.id);
      known.set(piece.session.id, before ? joinSessions(before, knownSession(piece.session)) : knownSession(piece.session));
    }
    await storeItems(database, {
      appId: app.id,
      items: {
        sessions: [...known.values()].map((one) => ({ known: one, excluded: false })),
        reports: batch.flatMap((piece) => ('report' in piece ? [toStorable(fitReport(piece.report))] : [])),
        attachments: [],
        trailEvents: [],
      },
      receivedAt: new Date(),
    });
  }
}

const figures = async (app: App) =>
  (await database('sessions').where({ app_id: app.id }).orderBy('session_id')).map(
    ({ app_id: _app, received_at: _at, changed_at: _change, body, ...row }) => ({
      ...row,
      session_id: row.session_id.toString('hex'),
      installation_id: row.installation_id.toString('hex'),
      person_key: row.person_key.toString('hex'),
      body: JSON.parse(body),
    }),
  );

const shuffled = <Value>(values: readonly Value[], seed: number): Value[] => {
  let state = seed;
  const next = () => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    return state / 2 ** 32;
  };
  return values
    .map((value) => [next(), value] as const)
    .sort((a, b) => a[0] - b[0])
    .map(([, value]) => value);
};

describe('sessions', () => {
  it('are the same whatever order their items and reports arrive in, repeated or not, in one batch or many', async () => {
    const { sessions, reports } = story();
    const pieces: Piece[] = [...sessions.map((session) => ({ session })), ...reports.map((report) => ({ report }))];
    const inOrder = await newApp();
    await deliver(inOrder, pieces, 7);
    const expected = await figures(inOrder);
    expect(expected).toHaveLength(40);
    expect(expected.filter((row) => row.state === 'crashed')).toHaveLength(10);
    expect(expected.every((row) => row.started === 1 && row.version === '4.2.0')).toBe(true);
    expect(expected[0]).toMatchObject({
      started_at: new Date(minute(0)),
      last_at: new Date(minute(2)),
      duration_ms: 120_000,
      body: { attributes: { step: 2 } },
    });
    for (let seed = 1; seed <= 12; seed++) {
      const app = await newApp();
      await deliver(app, shuffled([...pieces, ...pieces.slice(0, 60)], seed), 1 + (seed % 5) * 9);
      expect(await figures(app)).toEqual(expected);
    }
  });

  it('are the same when several senders deliver at once', async () => {
    const { sessions, reports } = story();
    const pieces: Piece[] = [...sessions.map((session) => ({ session })), ...reports.map((report) => ({ report }))];
    const [alone, together] = [await newApp(), await newApp()];
    await deliver(alone, pieces, 50);
    await Promise.all([1, 2, 3, 4, 5, 6].map((seed) => deliver(together, shuffled(pieces, seed), 11)));
    expect(await figures(together)).toEqual(await figures(alone));
  });

  it('keep all that one item may tell, which is more than 64 kB', async () => {
    const app = await newApp();
    const item = sessionItemSchema.parse({
      ...{ id: uuid(1, 99), sequence: 0, at: minute(0), startedAt: minute(0), version: '4.2.0', build: '1' },
      attributes: Object.fromEntries(Array.from({ length: 100 }, (_, at) => [`attribute ${at}`, randomBytes(1_000).toString('hex')])),
      screens: Array.from({ length: 200 }, (_, at) => ({ name: `${at} ${randomBytes(140).toString('hex')}`, visits: 1 })),
    });
    await deliver(app, [{ session: item }], 1);
    const { body } = await database('sessions').where({ app_id: app.id }).first('body');
    expect(JSON.parse(body)).toEqual({ flags: {}, attributes: item.attributes, screens: item.screens });
  });

  it('that only a crash report tells of are not started', async () => {
    const app = await newApp();
    const { reports } = story();
    await deliver(app, [{ report: reports[0] as (typeof reports)[number] }], 1);
    expect(await database('sessions').where({ app_id: app.id }).first('started', 'state')).toEqual({ started: 0, state: 'crashed' });
  });
});
