import { randomUUID } from 'node:crypto';
import { type AlertRule, alertRuleSchema } from '@rough-ember/core/alerts/alert-rule';
import { dayMs, hourMs } from '@rough-ember/core/durations';
import { createApp } from '@rough-ember/store/apps';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { loadStabilitySettings, saveStabilitySettings } from '../stability/settings.ts';
import { guideFile, startTestServer, type TestServer } from '../testing/test-server.ts';
import { recordRollout } from '../versions/record-changes.ts';
import { lookFor } from './looks.ts';
import { tryRule } from './try-rule.ts';

let server: TestServer;
const by = 'ines@larkfield.example';

/** Sessions of a version, each of somebody else, some of which crash; all on one day so many days ago. */
function sessions(version: string, daysAgo: number, { count, crashed }: { count: number; crashed: number }): object[] {
  return Array.from({ length: count }, (_, at) => {
    const startedAt = new Date(Date.now() - daysAgo * dayMs).toISOString();
    return {
      type: 'session',
      id: randomUUID(),
      sequence: 1,
      at: startedAt,
      startedAt,
      state: at < crashed ? 'crashed' : 'ended',
      durationMs: 30_000,
      version,
      build: '1',
      installationId: randomUUID(),
    };
  });
}

/** Reports of one case, each of somebody else, on one day so many days ago. */
const reports = (name: string, daysAgo: number, count: number): object[] =>
  Array.from({ length: count }, () => ({
    type: 'report',
    id: randomUUID(),
    kind: 'crash',
    occurredAt: new Date(Date.now() - daysAgo * dayMs).toISOString(),
    version: '4.3.0',
    build: '1',
    installationId: randomUUID(),
    exceptions: [{ type: `com.larkfield.${name}`, stack: `com.larkfield.${name}\n\tat com.larkfield.guide.${name}.sit(${name}.java:12)` }],
  }));

beforeAll(async () => {
  server = await startTestServer();
  await server.sendItems([
    ...sessions('4.2.0', 3, { count: 400, crashed: 1 }),
    ...sessions('4.3.0', 2, { count: 400, crashed: 60 }),
    ...reports('Perch', 10, 12),
    ...reports('Perch', 3, 60),
    ...reports('Nest', 10, 20),
    ...reports('Nest', 3, 20),
  ]);
});
afterAll(() => server.stop());

const rule = (what: object, where = ''): AlertRule => alertRuleSchema.parse({ what, where, whom: { people: 'everybody' } });
const look = (of: AlertRule) => lookFor(server.services, server.app, of, new Date());
const headlines = async (of: AlertRule) => (await look(of)).findings.map((one) => one.told?.headline ?? one.name);
const target = async (targetPercent: number | null) =>
  saveStabilitySettings(
    server.services,
    server.app,
    { ...(await loadStabilitySettings(server.services, server.app)), targetPercent },
    'ines@larkfield.example',
  );

describe('a look', () => {
  it('finds crash-free sessions that are surely below the target, and says when there is none', async () => {
    await target(99);
    expect(await headlines(rule({ kind: 'crash-free' }))).toEqual([
      '92.38\u00a0% of sessions are free of crashes; the target is 99\u00a0%',
    ]);
    expect(await headlines(rule({ kind: 'crash-free' }, 'version=4.2.0'))).toEqual([]);
    await target(92);
    expect(await headlines(rule({ kind: 'crash-free' }))).toEqual([]);
    await target(null);
    expect(await look(rule({ kind: 'crash-free' }))).toMatchObject({ findings: [], problem: expect.stringContaining('no target') });
    expect(await look(rule({ kind: 'budget' }))).toMatchObject({ findings: [], problem: expect.stringContaining('no target') });
  });

  it('finds a month that has missed its target, or will', async () => {
    await target(99);
    // The sessions of some days ago may be of the month before.
    const found = await headlines(rule({ kind: 'budget' }));
    expect(found).toEqual([expect.stringMatching(/^This month (has missed|will miss) its target of 99\u00a0%$/)]);
    await target(50);
    expect(await headlines(rule({ kind: 'budget' }))).toEqual([]);
  });

  it('finds cases that got surely worse, and not those that stay as they are', async () => {
    const { findings } = await look(rule({ kind: 'case-worse' }, 'kind=crash'));
    const heads = await server.database('cases').whereIn(
      'id',
      findings.map((one) => one.caseId),
    );
    expect(heads.map((one) => one.where_text)).toEqual(['Perch.sit']);
    const tried = await tryRule(server.services, server.app, rule({ kind: 'case-worse' }, 'kind=crash'), new Date());
    expect(tried.newest.map((one) => one.headline)).toEqual([expect.stringContaining('Perch.sit')]);
  });

  it('finds a version that must not go further, until it is halted', async () => {
    expect(await look(rule({ kind: 'version' }))).toMatchObject({
      findings: [{ name: 'version 4.3.0', told: { headline: '4.3.0 must not go further', version: '4.3.0' } }],
    });
    await recordRollout(server.services, server.app, { version: '4.3.0', action: 'halt', percent: null, note: '', commit: '', by });
    expect((await look(rule({ kind: 'version' }))).findings).toEqual([]);
  });

  it('finds a count that passed its bound', async () => {
    expect(await headlines(rule({ kind: 'count', of: 'people', atLeast: 80, days: 7 }, 'kind=crash'))).toEqual([
      '80 people in 7 days: crashes',
    ]);
    expect(await headlines(rule({ kind: 'count', of: 'reports', atLeast: 81, days: 7 }, 'kind=crash'))).toEqual([]);
    const tried = await tryRule(
      server.services,
      server.app,
      rule({ kind: 'count', of: 'people', atLeast: 80, days: 7 }, 'kind=crash'),
      new Date(),
    );
    expect(tried.alerts).toBe(1);
  });

  it('tells the figures of a sheet, the same for the whole week', async () => {
    const { findings, problem } = await look(rule({ kind: 'sheet', sheet: 'monday' }));
    expect(problem).toBeNull();
    expect(findings).toMatchObject([
      { name: expect.stringMatching(/^week \d+$/), told: { headline: 'Monday morning', path: '/apps/guide/sheets/monday' } },
    ]);
    expect(findings[0]?.told?.facts[0]).toMatch(/^Crash-free sessions: \d+\.\d+ % crash-free sessions in all/);
    const week = 7 * 86_400_000;
    const later = await lookFor(server.services, server.app, rule({ kind: 'sheet', sheet: 'monday' }), new Date(Date.now() + week));
    expect(later.findings[0]?.name).not.toBe(findings[0]?.name);
    expect(await look(rule({ kind: 'sheet', sheet: '99' }))).toEqual({
      findings: [],
      problem: expect.stringContaining('The sheet is gone'),
    });
  });

  it('finds a symbol file that is missing, until it comes', async () => {
    await server.send('/intake/v1/file?version=4.3.1&build=431', guideFile('4.3.1/crashes/night-map.txt') as BodyInit);
    await server.settled();
    expect(await headlines(rule({ kind: 'symbols' }))).toEqual(['4.3.1 (431) lacks its mapping file: 1 report cannot be read']);
    expect(await headlines(rule({ kind: 'symbols', reports: 2 }))).toEqual([]);
    await server.uploadSymbols(guideFile('4.3.1/mapping.txt'), { version: '4.3.1', build: '431' });
    await server.settled();
    expect(await headlines(rule({ kind: 'symbols' }))).toEqual([]);
  });
});

describe('a look at what arrives', () => {
  /** An app of its own, with requests so many hours ago. */
  async function appWith(prefix: string, requests: readonly { hoursAgo: number; accepted: number; refused: number }[]) {
    const app = await createApp(server.database, {
      slug: prefix.toLowerCase(),
      name: prefix,
      prefix,
      platforms: ['Android'],
      ourPackages: [],
    });
    if (!app) throw new Error('the app was not made');
    if (requests.length > 0)
      await server.database('intake_log').insert(
        requests.map(({ hoursAgo, accepted, refused }) => ({
          app_id: app.id,
          at: new Date(Date.now() - (hoursAgo + 0.5) * hourMs),
          what: 'a batch',
          status: 202,
          accepted,
          refused,
        })),
      );
    return (what: object) => lookFor(server.services, app, rule(what), new Date());
  }
  const hourly = (from: number, to: number) =>
    Array.from({ length: to - from }, (_, at) => ({ hoursAgo: from + at, accepted: 1, refused: 0 }));

  it('finds that nothing comes any more where something always did', async () => {
    const silent = await appWith('SI', hourly(5, 100));
    expect((await silent({ kind: 'silence', hours: 4 })).findings).toMatchObject([{ told: { headline: 'Nothing came for 5 hours' } }]);
    expect((await silent({ kind: 'silence', hours: 6 })).findings).toEqual([]);
    // Of an app that sleeps for hours every night, silence for as long says nothing.
    const sleepy = await appWith('SL', [...hourly(5, 20), ...hourly(30, 100)]);
    expect((await sleepy({ kind: 'silence', hours: 4 })).findings).toEqual([]);
    const unused = await appWith('UN', []);
    expect((await unused({ kind: 'silence', hours: 4 })).findings).toEqual([]);
  });

  it('finds that intake refuses more than usual, unless it is a handful', async () => {
    const refused = await appWith('RE', [{ hoursAgo: 0, accepted: 60, refused: 40 }]);
    expect((await refused({ kind: 'refusals', percent: 10 })).findings).toMatchObject([
      { told: { headline: 'Intake refused 40 items in the last hour, 40\u00a0% of what was sent' } },
    ]);
    expect((await refused({ kind: 'refusals', percent: 50 })).findings).toEqual([]);
    const few = await appWith('FE', [{ hoursAgo: 0, accepted: 0, refused: 3 }]);
    expect((await few({ kind: 'refusals', percent: 10 })).findings).toEqual([]);
  });
});
