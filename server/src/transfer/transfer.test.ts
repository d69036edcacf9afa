import { randomUUID } from 'node:crypto';
import { dayOf } from '@rough-ember/core/session-index/person-day';
import { dropRawSessions } from '@rough-ember/store/session-feed';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { issueToken } from '../accounts/issue-credentials.ts';
import { guideFile, startTestServer, type TestServer } from '../testing/test-server.ts';
import { parts } from './transfer.ts';

/** A server where things happened, and an empty one. */
let from: TestServer;
let to: TestServer;
const tokens = new Map<TestServer, string>();
beforeAll(async () => {
  [from, to] = await Promise.all([startTestServer(), startTestServer()]);
  for (const server of [from, to])
    tokens.set(server, await issueToken(server.database, { appId: server.app.id, name: 'mover', scope: 'write' }));
  await fill();
});
afterAll(() => Promise.all([from.stop(), to.stop()]));

const ask = (server: TestServer, method: string, path: string, more: RequestInit = {}) =>
  fetch(`${server.address}/api/v1/apps/guide/${path}`, {
    method,
    ...more,
    headers: { authorization: `Bearer ${tokens.get(server)}`, ...more.headers },
  });
const json = async (server: TestServer, path: string) => (await ask(server, 'GET', path)).json();
const change = (path: string, body: object) =>
  ask(from, 'POST', path, { body: JSON.stringify(body), headers: { 'content-type': 'application/json' } });

const at = (daysAgo: number) => new Date(Date.now() - daysAgo * 86_400_000 - 60_000).toISOString();
const about = (person: string, version: string) => ({
  version,
  build: '1',
  personId: person,
  installationId: randomUUID(),
  device: { manufacturer: 'Brill', model: person.endsWith('1') ? '6a' : '7' },
  os: { name: 'Android', version: '14' },
  flags: { 'night-map': person.endsWith('2') ? 'on' : 'off' },
});

async function fill(): Promise<void> {
  const items = Array.from({ length: 60 }, (_, index) => {
    const [person, version] = [`warden-${index % 7}`, index % 3 === 0 ? '4.2.0' : '4.3.0'];
    const session = {
      type: 'session',
      id: randomUUID(),
      sequence: 1,
      at: at(index % 20),
      startedAt: at(index % 20),
      state: 'ended',
      durationMs: 9_000,
      screens: [{ name: 'map', visits: 2 }],
      ...about(person, version),
    };
    if (index % 4 !== 0) return [session];
    const stack = `java.lang.IllegalStateException: no perch ${index}\n\tat com.larkfield.guide.Perch${index % 3}.sit(Perch.java:${index})`;
    const exceptions = [{ type: 'java.lang.IllegalStateException', message: `no perch ${index}`, stack }];
    const report = {
      type: 'report',
      id: randomUUID(),
      kind: index % 8 === 0 ? 'error' : 'crash',
      occurredAt: at(index % 20),
      sessionId: session.id,
      exceptions,
      attributes: { tiles: index },
      ...about(person, version),
    };
    return [
      session,
      report,
      ...(index === 4
        ? [
            {
              type: 'attachment',
              id: randomUUID(),
              reportId: report.id,
              kind: 'log',
              name: 'last.log',
              mediaType: 'text/plain',
              content: 'aGVsbG8=',
            },
          ]
        : []),
    ];
  }).flat();
  await from.sendItems(items);
  // One that waits for its symbol file, and one whose file is there: the other server has neither.
  await from.send('/intake/v1/file?version=4.3.1&build=431', guideFile('4.3.1/crashes/night-map.txt') as BodyInit);
  await from.uploadSymbols(guideFile('4.2.0/mapping.txt'), { version: '4.2.0', build: '420' });
  await from.send('/intake/v1/file?version=4.2.0&build=420', guideFile('4.2.0/crashes/tides.txt') as BodyInit);
  await from.settled();
  await change('attributes', { name: 'tiles' });
  await from.settled();
  const { cases } = await json(from, 'cases?last=all&kind=crash,hang,kill,error');
  const refs = cases.map((one: { ref: string }) => one.ref) as string[];
  await change('cases/actions', { cases: [refs[0]], action: { action: 'close', version: '9.0.0' } });
  await change(`cases/${refs[1]}/notes`, { text: 'the perch is wet' });
  await change('cases/actions', { cases: [refs[1], refs[2]], action: { action: 'merge', into: refs[1] } });
  await change('rollouts', { version: '4.3.0', action: 'step', percent: 50 });
  await change('sheets', { title: 'Marsh', forTeam: true, charts: [{ title: 'Versions', question: 'reports by version' }] });
}

/** Everything that an export writes, part by part, with its lines. */
async function exported(server: TestServer): Promise<Map<string, string>> {
  const all = new Map<string, string>();
  for (const part of parts) all.set(part, await (await ask(server, 'GET', `transfer/${part}`)).text());
  return all;
}
const dataOf = (text: string): Record<string, unknown>[] =>
  text
    .split('\n')
    .filter(Boolean)
    .map((line) => JSON.parse(line))
    .filter((line) => !('next' in line) && !('end' in line));
const take = (part: string, body: string, server = to) => ask(server, 'POST', `transfer/${part}`, { body });

describe('everything of an app', () => {
  it('taken along and taken in elsewhere gives the same figures, cases and answers on every screen', async () => {
    const all = await exported(from);
    expect(dataOf(all.get('reports') as string).length).toBe(17);
    for (const [part, body] of all) {
      const answer = await take(part, body);
      expect({ part, status: answer.status, answer: await answer.json() }).toMatchObject({
        part,
        status: 200,
        answer: { lines: dataOf(body).length },
      });
    }
    const everything = 'last=all&kind=crash,hang,kill,error&builds=any&cases=any';
    for (const question of [
      ...[
        `cases?${everything}`,
        'cases?last=all&cases=closed',
        `crash-free?${everything}`,
        `crash-free/matrix?${everything}`,
        'screens?last=all',
        'people-over-time',
      ],
      ...[
        'reports by version, kind',
        'affected people per people by device.model',
        'mean of attributes.tiles',
        'crash-free people per week',
        'cases by flags.night-map',
      ].map((text) => `ask?${everything}&question=${encodeURIComponent(text)}`),
    ]) {
      const [one, other] = await Promise.all([from, to].map((server) => json(server, question)));
      expect({ question, ...bare(other) }).toEqual({ question, ...bare(one) });
    }
    const { cases } = await json(from, `cases?${everything}`);
    for (const { ref } of cases as { ref: string }[]) {
      const [one, other] = await Promise.all([from, to].map((server) => json(server, `cases/${ref}?${everything}`)));
      expect(bare(other)).toEqual(bare(one));
    }
    // What was taken in says the same when it is taken along again; settings that were left out have their defaults.
    const again = await exported(to);
    for (const [part, body] of all)
      expect({ part, lines: withoutNames(dataOf(again.get(part) as string)) }).toMatchObject({ part, lines: withoutNames(dataOf(body)) });
  });

  it('does not change how long things are kept, which only an owner may', async () => {
    const [line] = dataOf(await (await ask(from, 'GET', 'transfer/app')).text());
    const week = { days: 7, megabytes: null };
    const answer = await take('app', JSON.stringify({ ...line, retention: { reports: week, attachments: week, intakeLog: week } }));
    expect(answer.status).toBe(200);
    expect((await json(to, 'settings')).retention).toEqual((await json(from, 'settings')).retention);
  });

  it('taken in twice changes nothing', async () => {
    for (const [part, body] of await exported(from)) {
      if (part === 'app') continue;
      expect({ part, ...(await (await take(part, body)).json()) }).toMatchObject({ part, taken: 0 });
    }
  });

  it('is gone on with from the last cursor that came', async () => {
    const whole = await (await ask(from, 'GET', 'transfer/sessions')).text();
    const cursor = dataOf(whole)[9]?.sessionId as string;
    const rest = dataOf(await (await ask(from, 'GET', `transfer/sessions?after=${cursor}`)).text());
    expect(rest).toEqual(dataOf(whole).slice(10));
    expect(whole.trimEnd().endsWith('{"end":true}')).toBe(true);
  });

  it('still asks for the symbol files that it lacks, which make it readable there too', async () => {
    await to.uploadSymbols(guideFile('4.3.1/mapping.txt'), { version: '4.3.1', build: '431' });
    await to.settled();
    const { cases } = await json(to, 'cases?last=all&version=4.3.1');
    expect(cases.map((one: { where: string }) => one.where)).toEqual([expect.stringContaining('NightMap.tileFor')]);
  });

  it('has the sums of days whose sessions are gone', async () => {
    const third = await startTestServer();
    tokens.set(third, await issueToken(third.database, { appId: third.app.id, name: 'mover', scope: 'write' }));
    const figures = (server: TestServer) => json(server, 'crash-free?last=all&builds=any');
    const before = await figures(from);
    await from.services.sessions.ask('keepAll', 0);
    expect(await dropRawSessions(from.database, from.app.id, dayOf(Date.now()) - 9, 1_000)).toBeGreaterThan(10);
    for (const [part, body] of await exported(from)) expect((await take(part, body, third)).status).toBe(200);
    expect(bare(await figures(from))).toEqual(bare(before));
    expect(bare(await figures(third))).toEqual(bare(before));
    await third.stop();
  });
});

describe('what cannot be taken in', () => {
  it.each([
    ['reports', '{"reportId":"00"}', 400, /Line 1 is no line of "reports"/],
    ['cases', 'hello', 400, /Line 1 is not JSON/],
    ['case-redirects', '{"number":1,"case":99999}', 409, /case 99999 is named and not there/],
    ['birds', '{}', 404, /there are app, attributes/],
  ])('%s: %s is refused with its line and reason', async (part, body, status, message) => {
    const answer = await take(part, body);
    expect(answer.status).toBe(status);
    expect((await answer.json()).error.message).toMatch(message);
  });

  it('is a case that the app has already, of its own', async () => {
    const [line] = dataOf(await (await ask(from, 'GET', 'transfer/cases')).text());
    const answer = await take('cases', JSON.stringify({ ...line, createdAt: '2020-01-01T00:00:00.000Z' }));
    expect([answer.status, (await answer.json()).error.code]).toEqual([409, 'wrong-order']);
  });

  it('is whatever comes with a token that may not change, or none', async () => {
    const reader = await issueToken(from.database, { appId: from.app.id, name: 'reader', scope: 'read' });
    const uploader = await issueToken(from.database, { appId: from.app.id, name: 'uploader', scope: 'upload' });
    const path = `${from.address}/api/v1/apps/guide/transfer/reports`;
    for (const token of [reader, uploader])
      for (const method of ['GET', 'POST'])
        expect(
          (await fetch(path, { method, headers: { authorization: `Bearer ${token}` }, ...(method === 'POST' ? { body: '' } : {}) })).status,
        ).toBe(403);
    expect((await fetch(path)).status).toBe(401);
    expect((await fetch(path, { method: 'POST', body: '' })).status).toBe(401);
  });
});

/** An answer without what differs from moment to moment and from server to server. */
function bare(value: unknown): Record<string, unknown> {
  // How much of the month is over is another thing a moment later; of reports that are alike any may be the typical one.
  const numbers = new Set(['now', 'id', 'row', 'caseId', 'reportRow', 'budget', 'typical']);
  const without = (one: unknown): unknown =>
    Array.isArray(one)
      ? one.map(without)
      : typeof one === 'object' && one !== null
        ? Object.fromEntries(Object.entries(one).flatMap(([name, inner]) => (numbers.has(name) ? [] : [[name, without(inner)]])))
        : one;
  return without(value) as Record<string, unknown>;
}

const withoutNames = (lines: readonly Record<string, unknown>[]) =>
  lines.map(({ name, prefix, ...line }) => ('zone' in line ? line : { name, prefix, ...line }));
