import { randomUUID } from 'node:crypto';
import { wholeScope } from '@rough-ember/core/scope/scope';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { startTestServer, type TestServer } from '../testing/test-server.ts';
import { loadCaseList } from './case-list.ts';
import { forgetPerson, loadPerson } from './person.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
});
afterAll(() => server.stop());

const now = new Date();
const ago = (minutes: number) => new Date(now.getTime() - minutes * 60_000).toISOString();
const installation = randomUUID();

async function send(...items: object[]): Promise<void> {
  const { body, status } = await server.send('/intake/v1/batch', items.map((item) => JSON.stringify(item)).join('\n'));
  expect([status, body.items.map((item) => item.outcome)]).toEqual([202, items.map(() => 'accepted')]);
  await server.settled();
}
const report = (more: object) => ({
  type: 'report',
  id: randomUUID(),
  kind: 'crash',
  occurredAt: ago(5),
  version: '4.3.0',
  build: '430',
  exceptions: [
    { type: 'java.lang.IllegalStateException', stack: 'java.lang.IllegalStateException\n\tat com.larkfield.guide.Perch.sit(Perch.java:7)' },
  ],
  ...more,
});
const find = (id: string) => loadPerson(server.services, { app: server.app, id, now });
const everything = async () => {
  const { totals } = await loadCaseList(server.services, { app: server.app, scope: wholeScope, now: new Date() });
  return totals.reports;
};

it('somebody is found by their id, by how they can be reached, and by their installation, with what happened in order', async () => {
  const own = report({ personId: 'maud', installationId: installation, occurredAt: ago(3) });
  const session = {
    type: 'session',
    id: randomUUID(),
    sequence: 0,
    at: ago(9),
    startedAt: ago(9),
    version: '4.2.0',
    build: '420',
    personId: 'maud',
    installationId: installation,
  };
  await send(session, own, report({ personId: 'tom', occurredAt: ago(1) }));
  const byId = await find('maud');
  expect(byId).toMatchObject({ reports: 1, sessions: 1, versions: ['4.3.0', '4.2.0'], cut: false });
  expect(byId.moments.find((one) => one.type === 'report')).toMatchObject({ ref: 'LG-1', where: 'Perch.sit', version: '4.3.0' });
  expect((await find(installation)).reports).toBe(1);
  await send(report({ personId: 'wren', contact: '+44 20 7946 0018' }));
  expect((await find('+44 20 7946 0018 ')).reports).toBe(1);
  expect((await find('Maud')).moments).toEqual([]);
});

it('somebody is forgotten with everything they sent, and nobody else', async () => {
  const own = report({ personId: 'maud' });
  const attachment = {
    type: 'attachment',
    id: randomUUID(),
    reportId: own.id,
    kind: 'log',
    name: 'log.txt',
    mediaType: 'text/plain',
    data: 'bG9n',
  };
  await send(own, attachment);
  expect(await everything()).toBe(4);
  expect(await forgetPerson(server.services, server.app, 'maud')).toEqual({ reports: 2, sessions: 1 });
  expect((await find('maud')).moments).toEqual([]);
  expect(await everything()).toBe(2);
  await server.settled();
  const left = async (table: string) => Number((await server.database(table).count({ count: '*' }))[0]?.count);
  expect([await left('attachments'), await left('report_bodies')]).toEqual([0, 2]);
  expect(await server.database('terms').where({ value: 'maud' })).toEqual([]);
  // Who comes back is somebody new.
  await send(report({ personId: 'maud' }));
  expect((await find('maud')).reports).toBe(1);
  expect(await everything()).toBe(3);
});
