import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { gzipSync } from 'node:zlib';
import { defaultKeyRules, type KeyRules, keyRulesSchema } from '@rough-ember/core/report/key-rules';
import { scrubRulesSchema } from '@rough-ember/core/report/scrub';
import { wholeScope } from '@rough-ember/core/scope/scope';
import { changeAppSetting } from '@rough-ember/store/app-settings';
import { listAttachments, readAttachment } from '@rough-ember/store/attachments';
import { changeIntakeKey, listIntakeKeys } from '@rough-ember/store/credentials';
import { countIntakeHours, listIntakeLog } from '@rough-ember/store/intake-log';
import { findReport } from '@rough-ember/store/reports';
import { findSession } from '@rough-ember/store/session-list';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { loadCaseList } from '../desk/case-list.ts';
import { startTestServer, type TestServer } from '../testing/test-server.ts';
import { fileParametersSchema } from './read-crash-file.ts';
import { takeFile } from './take.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
});
afterAll(() => server.stop());

const sample = (name: string) => new Uint8Array(readFileSync(new URL(`../../../core/samples/${name}`, import.meta.url)));
const minutesAgo = (minutes: number) => new Date(Date.now() - 60_000 * minutes).toISOString();
const report = (more: object = {}) => ({
  type: 'report',
  id: randomUUID(),
  kind: 'crash',
  occurredAt: minutesAgo(5),
  version: '4.3.0',
  build: '430',
  exceptions: [{ type: 'TypeError', frames: [{ runtime: 'javascript', function: 'trim', file: 'index.bundle', line: 1, column: 20 }] }],
  ...more,
});
const session = (more: object = {}) => ({
  type: 'session',
  id: randomUUID(),
  sequence: 0,
  at: minutesAgo(9),
  startedAt: minutesAgo(9),
  version: '4.3.0',
  build: '430',
  ...more,
});
const png = Buffer.from('iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==', 'base64');
const attachment = (reportId: string, more: object = {}) => ({
  type: 'attachment',
  id: randomUUID(),
  reportId,
  kind: 'screenshot',
  name: 'night-map.png',
  mediaType: 'image/png',
  data: png.toString('base64'),
  ...more,
});
const batch = (...items: object[]) => server.send('/intake/v1/batch', items.map((one) => JSON.stringify(one)).join('\n'));
const outcomes = (answer: Awaited<ReturnType<typeof batch>>) => answer.body.items.map((one) => one.outcome);
const lastLogged = async () => (await listIntakeLog(server.database, { appId: server.app.id, strangers: false, limit: 1 }))[0];

async function withRules<Value>(rules: Partial<KeyRules>, run: () => Promise<Value>): Promise<Value> {
  const [key] = await listIntakeKeys(server.database, server.app.id);
  const change = (to: KeyRules) =>
    changeIntakeKey(server.database, { appId: server.app.id, id: key?.id as number, name: 'phones', rules: to });
  await change(keyRulesSchema.parse(rules));
  try {
    return await run();
  } finally {
    await change(defaultKeyRules);
  }
}

describe('sessions and attachments', () => {
  it('are taken beside reports, and a crash marks its session', async () => {
    const open = session();
    const crash = report({ sessionId: open.id });
    expect(outcomes(await batch(open, crash, attachment(crash.id)))).toEqual(['accepted', 'accepted', 'accepted']);
    const row = await server.database('sessions').where({ app_id: server.app.id, state: 'crashed' }).first('started', 'version');
    expect(row).toEqual({ started: 1, version: '4.3.0' });
    const [kept] = await listAttachments(server.database, server.app.id, crash.id);
    expect(kept).toMatchObject({ kind: 'screenshot', name: 'night-map.png', sizeBytes: png.length });
    expect((await readAttachment(server.database, server.app.id, kept?.id as string))?.content.equals(png)).toBe(true);
  });

  it('may come before their report, and twice', async () => {
    const crash = report();
    const early = attachment(crash.id);
    expect(outcomes(await batch(early))).toEqual(['accepted']);
    expect(outcomes(await batch(early, crash))).toEqual(['duplicate', 'accepted']);
    expect(await listAttachments(server.database, server.app.id, crash.id)).toHaveLength(1);
  });

  it.each([
    ['a type that a browser could run', { mediaType: 'text/html' }, 'mediaType'],
    ['bytes that are no picture', { data: Buffer.from('<svg onload=alert(1)>').toString('base64') }, 'does not begin like image/png'],
    ['more bytes than allowed', { data: Buffer.concat([png, Buffer.alloc(2_100_000)]).toString('base64') }, 'bytes'],
  ])('are refused with %s', async (_, more, reason) => {
    const answer = await batch(attachment(randomUUID(), more));
    expect(answer.body.items[0]).toMatchObject({ outcome: 'refused', reason: expect.stringContaining(reason) });
  });

  it('have a limit for each report', async () => {
    const { id } = report();
    const answer = await batch(...Array.from({ length: 14 }, () => attachment(id)));
    expect(outcomes(answer).filter((one) => one === 'accepted')).toHaveLength(12);
    expect(answer.body.items[13]?.reason).toContain('as many attachments');
  });
});

describe('a clock that cannot be right', () => {
  const daysAgo = (days: number) => minutesAgo(days * 24 * 60);
  const minute = 60_000;

  it.each([
    ['a year slow', 365],
    ['three days fast', -3],
  ])('%s: a report lands where its arrival says, and its session still knows how far into it the crash came', async (_how, days) => {
    const open = session({ at: daysAgo(days), startedAt: daysAgo(days) });
    const crash = report({ sessionId: open.id, occurredAt: new Date(Date.parse(open.startedAt) + 2_000).toISOString() });
    const before = Date.now();
    const answer = await batch(open, crash);
    expect(outcomes(answer)).toEqual(['accepted', 'accepted']);
    expect(answer.body.items[1]).toMatchObject({ remarks: [expect.stringContaining('by a clock that cannot be right')] });
    const row = await server
      .database('reports')
      .where({ report_id: Buffer.from(crash.id.replaceAll('-', ''), 'hex') })
      .first('occurred_at', 'received_at');
    expect(Math.abs(row.occurred_at.getTime() - before)).toBeLessThan(10 * minute);
    const kept = await findSession(server.database, server.app.id, open.id);
    expect(kept).toMatchObject({ crashedAfterMs: 2_000 });
    expect(Math.abs((kept?.startedAt.getTime() ?? 0) - before)).toBeLessThan(10 * minute);
    expect(Math.abs((kept?.clockErrorMs ?? 0) + days * 24 * 60 * minute)).toBeLessThan(10 * minute);
  });

  it('leaves an old file that a person hands over as old as it is', async () => {
    const text = 'Exception in thread "main" java.lang.IllegalStateException: long ago\n\tat com.larkfield.A.b(A.java:1)\n';
    const parameters = fileParametersSchema.parse({ version: '4.3.0', build: '430', occurredAt: '2021-02-03T04:05:06.000Z' });
    const person = { appId: server.app.id, keyId: null, rules: defaultKeyRules, scrub: scrubRulesSchema.parse({}) };
    const { reportId } = await takeFile(server.database, person, { bytes: new TextEncoder().encode(text), parameters, remarks: [] });
    const row = await server
      .database('reports')
      .where({ report_id: Buffer.from((reportId as string).replaceAll('-', ''), 'hex') })
      .first('occurred_at');
    expect(row.occurred_at.toISOString()).toBe('2021-02-03T04:05:06.000Z');
  });
});

describe('the rules of a key', () => {
  it('exclude debug builds: stored and processed, but in no case that people see by default', async () => {
    const debug = report({ buildType: 'debug', exceptions: [{ type: 'DebugOnlyError', frames: [] }] });
    expect(outcomes(await batch(debug))).toEqual(['excluded']);
    expect(await lastLogged()).toMatchObject({
      excluded: 1,
      accepted: 0,
      lines: [{ outcome: 'excluded', reason: expect.stringContaining('"debug"') }],
    });
    await server.settled();
    expect(await server.database('cases').where({ what: 'DebugOnlyError' }).first('excluded')).toEqual({ excluded: 1 });
    expect(outcomes(await batch({ ...debug, id: randomUUID(), buildType: 'release' }))).toEqual(['accepted']);
    await server.settled();
    expect(await server.database('cases').where({ what: 'DebugOnlyError' }).orderBy('excluded').pluck('excluded')).toEqual([0, 1]);
  });

  it('refuse and sample with the reason in the answer and in the log', async () => {
    await withRules({ kinds: ['crash'], samplePercent: { ...defaultKeyRules.samplePercent, crash: 0 } }, async () => {
      const answer = await batch(report({ kind: 'error' }), report());
      expect(outcomes(answer)).toEqual(['refused', 'sampled-out']);
      expect(answer.body.items[1]?.reason).toContain('0 %');
      expect(await lastLogged()).toMatchObject({ refused: 1, sampledOut: 1 });
    });
  });

  it('a report that is sampled out marks its session all the same, so that crash-free stays what it is', async () => {
    const ids = Array.from({ length: 40 }, () => randomUUID());
    const at = new Date().toISOString();
    const session = (id: string) => ({ type: 'session', id, sequence: 0, at, startedAt: at, version: '8.8.8', build: '1' });
    await withRules({ samplePercent: { ...defaultKeyRules.samplePercent, crash: 10 } }, async () => {
      await batch(...ids.map(session));
      const answer = await batch(...ids.slice(0, 20).map((sessionId) => report({ version: '8.8.8', sessionId })));
      expect(outcomes(answer).filter((one) => one === 'sampled-out').length).toBeGreaterThan(5);
    });
    const states = await server.database('sessions').where({ version: '8.8.8' }).pluck('state');
    expect(states.sort()).toEqual([...Array(20).fill('crashed'), ...Array(20).fill('open')]);
  });

  it('a report that is kept counts for those that are not, the app’s own sampling included', async () => {
    const version = '8.8.9';
    const sent = Array.from({ length: 400 }, () => report({ version, samplePercent: 50 }));
    const kept = await withRules({ samplePercent: { ...defaultKeyRules.samplePercent, crash: 25 } }, async () => {
      return outcomes(await batch(...sent)).filter((one) => one === 'accepted').length;
    });
    await server.settled();
    const scope = { ...wholeScope, versions: { match: 'only', version } } as const;
    const { totals, cases } = await loadCaseList(server.services, { app: server.app, scope, now: new Date() });
    expect(totals).toMatchObject({ kept, reports: 8 * kept });
    expect(cases.map((one) => one.reports)).toEqual([8 * kept]);
  });

  it('a debug build that is sampled out stays excluded, also where the key takes no sessions', async () => {
    const sessionId = randomUUID();
    await withRules({ sessions: false, samplePercent: { ...defaultKeyRules.samplePercent, crash: 0 } }, async () => {
      expect(outcomes(await batch(report({ buildType: 'debug', sessionId })))).toEqual(['sampled-out']);
    });
    expect(await server.database('sessions').orderBy('received_at', 'desc').first('state', 'excluded')).toEqual({
      state: 'crashed',
      excluded: 1,
    });
  });

  it('limit how much comes in a minute, and say when to try again', async () => {
    await withRules({ itemsPerMinute: 2 }, async () => {
      const body = [report(), report(), report()].map((one) => JSON.stringify(one)).join('\n');
      const answer = await fetch(`${server.address}/intake/v1/batch`, {
        method: 'POST',
        body,
        headers: { authorization: `Bearer ${server.intakeKey}` },
      });
      expect(answer.status).toBe(429);
      expect(Number(answer.headers.get('retry-after'))).toBeGreaterThan(0);
      expect((await answer.json()).error).toMatchObject({ code: 'too-many-items', message: expect.stringContaining('2 items a minute') });
    });
  });
});

describe('what an app wants scrubbed', () => {
  it('is gone before anything is stored: from reports, sessions, attachments and imported files', async () => {
    await changeAppSetting(server.database, {
      appId: server.app.id,
      setting: 'scrub-rules',
      by: 'ines@larkfield.example',
      value: scrubRulesSchema.parse({ patterns: [{ name: 'ring number', pattern: 'RN-\\d{6}' }], attributes: ['diary'] }),
    });
    const crash = report({
      exceptions: [{ type: 'TypeError', message: 'ring RN-123456 of owl@larkfield.example' }],
      attributes: { diary: 'a secret nest' },
    });
    const log = attachment(crash.id, {
      kind: 'log',
      mediaType: 'text/plain',
      name: 'app.log',
      data: Buffer.from('mail owl@larkfield.example').toString('base64'),
    });
    await batch(crash, log, session({ attributes: { diary: 'a secret nest' } }));
    const text = `Exception in thread "main" java.lang.Error: RN-123456\n\tat com.larkfield.A.b(A.java:1)\n`;
    const imported = await server.send('/intake/v1/file?version=4.3.0&build=430', text);
    expect(imported.status).toBe(202);
    const stored = JSON.stringify([
      await server.database('report_bodies').select('body'),
      await server.database('sessions').select('body'),
      (await server.database('attachments').whereNot({ kind: 'screenshot' }).select('content')).map((row) => row.content.toString()),
    ]);
    expect(stored).not.toMatch(/RN-123456|owl@larkfield|secret nest/);
    expect(stored).toContain('[removed: ring number]');
    await changeAppSetting(server.database, {
      appId: server.app.id,
      setting: 'scrub-rules',
      by: 'ines@larkfield.example',
      value: scrubRulesSchema.parse({}),
    });
  });
});

describe('a crash file', () => {
  it.each([
    ['apple-ips/swift-index.ips', '', 'crash', '4.3.0'],
    ['metrickit/hang.json', '', 'hang', '4.3.0'],
    ['tombstone-protobuf/null-pointer.pb', 'version=4.3.0&build=430', 'crash', '4.3.0'],
    ['exit-info/low-memory.txt', 'version=4.2.0&build=420', 'kill', '4.2.0'],
    ['anr-trace/held-lock.txt', 'version=4.2.0&build=420', 'hang', '4.2.0'],
  ])('%s becomes a report of its kind, with the file beside it', async (name, parameters, kind, version) => {
    const answer = await server.send(`/intake/v1/file?${parameters}`, sample(name) as BodyInit);
    expect([answer.status, outcomes(answer)]).toEqual([202, ['accepted']]);
    const id = (answer.body.items[0] as unknown as { id: string }).id;
    expect(await findReport(server.database, server.app.id, id)).toMatchObject({ kind, version });
    const originals = await listAttachments(server.database, server.app.id, id);
    expect(originals.map((one) => one.kind)).toEqual(name.endsWith('.pb') ? [] : ['original']);
  });

  it('that carries its own id is a duplicate the second time', async () => {
    const send = () => server.send('/intake/v1/file', sample('apple-ips/watchdog.ips') as BodyInit);
    expect([outcomes(await send()), outcomes(await send())]).toEqual([['accepted'], ['duplicate']]);
  });

  it('of a version it does not tell is refused with what is missing', async () => {
    const answer = await server.send('/intake/v1/file?version=1', sample('exit-info/low-memory.txt') as BodyInit);
    expect(answer.body.error.message).toContain('Android exit information, which does not tell "build"');
  });
});

describe('the intake log', () => {
  it('counts by hour and outcome, and filters', async () => {
    const [hour] = await countIntakeHours(server.database, { appId: server.app.id, strangers: false, hours: 24, now: new Date() });
    expect(hour).toMatchObject({ hoursAgo: 0, counts: { accepted: expect.any(Number), excluded: 1 } });
    const refused = await listIntakeLog(server.database, { appId: server.app.id, strangers: false, limit: 100, outcome: 'refused' });
    expect(refused.length).toBeGreaterThan(3);
    expect(refused.every((entry) => entry.refused > 0 && entry.reason !== null && entry.remedy !== null)).toBe(true);
  });

  it('shows a browser at another address how it may send', async () => {
    const answer = await fetch(`${server.address}/intake/v1/batch`, {
      method: 'OPTIONS',
      headers: { origin: 'https://feeder.larkfield.example', 'access-control-request-method': 'POST' },
    });
    expect([
      answer.status,
      answer.headers.get('access-control-allow-origin'),
      answer.headers.get('access-control-allow-credentials'),
    ]).toEqual([204, '*', null]);
  });

  it('takes compressed bodies of every kind', async () => {
    const answer = await server.send('/intake/v1/batch', gzipSync(JSON.stringify(session())), { 'content-encoding': 'gzip' });
    expect(outcomes(answer)).toEqual(['accepted']);
  });
});
