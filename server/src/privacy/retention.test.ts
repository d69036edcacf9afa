import { randomUUID } from 'node:crypto';
import { defaultRetention, type Retention, retentionSchema } from '@rough-ember/core/report/retention';
import { wholeScope } from '@rough-ember/core/scope/scope';
import { addFilterable } from '@rough-ember/store/filterable-attributes';
import { afterEach, beforeEach, expect, it } from 'vitest';
import { loadCaseFile } from '../desk/case-file.ts';
import { loadCaseList } from '../desk/case-list.ts';
import { keepHouse } from '../housekeeping.ts';
import { startTestServer, type TestServer } from '../testing/test-server.ts';
import { deleteWholeApp, deleteWholeCase } from './delete.ts';
import { loadRetention, previewRetention, setRetention } from './retention.ts';

let server: TestServer;
beforeEach(async () => {
  server = await startTestServer();
});
afterEach(() => server.stop());

const days = (count: number) => count * 86_400_000;
const limits = (given: object): Retention => retentionSchema.parse(given);

const report = (personId: string, frame = 'Perch.sit(Perch.java:7)', note = '') => ({
  type: 'report',
  id: randomUUID(),
  kind: 'crash',
  occurredAt: new Date().toISOString(),
  version: '4.3.0',
  build: '430',
  personId,
  attributes: { habitat: 'heath', note },
  exceptions: [{ type: 'java.lang.Error', stack: `java.lang.Error: said ${personId}\n\tat com.larkfield.guide.${frame}` }],
});

const attachmentOf = (reportId: string, bytes = 1_000) => ({
  type: 'attachment',
  id: randomUUID(),
  reportId,
  kind: 'log',
  name: 'log.txt',
  mediaType: 'text/plain',
  data: Buffer.alloc(bytes, 'x').toString('base64'),
});

/** Makes reports older than they are, with what came with them. */
async function backdate(ids: readonly string[], age: number): Promise<void> {
  const keys = ids.map((id) => Buffer.from(id.replaceAll('-', ''), 'hex'));
  const at = new Date(Date.now() - days(age));
  await server.database('reports').whereIn('report_id', keys).update({ received_at: at });
  await server.database('attachments').whereIn('report_id', keys).update({ received_at: at });
}

async function keep(retention: Retention): Promise<void> {
  await setRetention(server.services, server.app, retention, 'ines@larkfield.example');
  await server.settled();
}

const list = () => loadCaseList(server.services, { app: server.app, scope: wholeScope, now: new Date() });
const countOf = async (table: string) => Number((await server.database(table).count({ count: '*' }))[0]?.count);

it('nothing goes but old requests unless an app says so', async () => {
  const one = report('maud');
  await server.sendItems([one, attachmentOf(one.id)]);
  await backdate([one.id], 3_000);
  await server.database('intake_log').insert({ app_id: server.app.id, what: 'long ago', status: 202, at: new Date(Date.now() - days(15)) });
  await server.database('intake_log').insert({ app_id: null, what: 'a stranger', status: 401, at: new Date(Date.now() - days(15)) });
  await keepHouse(server.database, new Date());
  await server.settled();
  expect(await server.database('reports').pluck('state')).toEqual(['processed']);
  expect(await countOf('attachments')).toBe(1);
  expect(await server.database('intake_log').pluck('what')).not.toContain('long ago');
  expect(await server.database('intake_log').pluck('what')).not.toContain('a stranger');
  const { retention, holdings } = await loadRetention(server.services, server.app);
  expect(retention).toEqual(defaultRetention);
  expect(holdings.reports).toMatchObject({ items: 1 });
  expect(holdings.attachments).toMatchObject({ items: 1, bytes: 1_000 });
});

it('what old reports held goes, and everything they were counted by stays', async () => {
  await addFilterable(server.database, { appId: server.app.id, name: 'habitat', askedBy: 'ines' });
  const old = [report('maud'), report('tom')];
  await server.sendItems([...old, attachmentOf((old[0] as { id: string }).id), report('wren')]);
  await backdate(
    old.map(({ id }) => id),
    91,
  );
  const before = await list();
  const wanted = limits({ reports: { days: 90 } });
  expect(await previewRetention(server.services, server.app, wanted, new Date())).toMatchObject({
    reports: { items: 2 },
    attachments: null,
    intakeLog: null,
  });
  await keep(wanted);

  expect((await server.database('reports').orderBy('id').pluck('state')).sort()).toEqual(['emptied', 'emptied', 'processed']);
  expect(await countOf('attachments')).toBe(0);
  const after = await list();
  expect(after.totals).toEqual(before.totals);
  expect(after.cases.map(({ reports, people }) => ({ reports, people }))).toEqual([{ reports: 3, people: 3 }]);
  const values = (field: 'attributes' | 'person') =>
    server.services.reports.ask('fieldValues', server.app.id, wholeScope, Date.now(), {
      field,
      key: field === 'attributes' ? 'habitat' : '',
      limit: 9,
    });
  expect((await values('attributes')).values).toMatchObject([{ value: 'heath', reports: 3 }]);
  // Who they were is nobody's business any more.
  expect((await values('person')).values.map(({ value }) => value)).toEqual(['wren']);
  expect(await server.database('terms').whereIn('value', ['maud', 'tom']).count({ count: '*' })).toEqual([{ count: 0 }]);
  const bodies: string[] = await server.database('report_bodies').pluck('body');
  expect(bodies.filter((body) => body.includes('maud') || body.includes('tom'))).toEqual([]);
  const file = await loadCaseFile(server.services, { app: server.app, ref: 'LG-1', scope: wholeScope, position: 2, now: new Date() });
  expect(file?.report).toMatchObject({
    version: '4.3.0',
    isEmptied: true,
    personId: null,
    remarks: [expect.stringContaining('it is still counted')],
  });
  // A second time nothing is left to do, and they are not processed again by themselves.
  expect(await previewRetention(server.services, server.app, wanted, new Date())).toMatchObject({ reports: null });
});

it('what is held stays below a size, the oldest first, of attachments alone or of reports with theirs', async () => {
  const all = Array.from({ length: 6 }, (_, place) => report(`person ${place}`));
  for (const one of all) await server.sendItems([one, attachmentOf(one.id, 400_000)]);
  await keep(limits({ attachments: { megabytes: 1 } }));
  expect(await countOf('attachments')).toBe(2);
  expect(await server.database('reports').distinct('state').pluck('state')).toEqual(['processed']);
  const { holdings } = await loadRetention(server.services, server.app);
  expect(holdings.attachments).toMatchObject({ items: 2, bytes: 800_000 });

  const large = Array.from({ length: 4 }, (_, place) => ({
    ...report(`writer ${place}`),
    sections: Array.from({ length: 10 }, (_, part) => ({ name: `part ${part}`, text: 'y'.repeat(60_000) })),
  }));
  for (const one of large) await server.sendItems([one]);
  await keep(limits({ reports: { megabytes: 1 } }));
  const states: string[] = await server.database('reports').orderBy('id').pluck('state');
  expect(states).toEqual([...Array(9).fill('emptied'), 'processed']);
});

it('what could not be processed goes whole with its age, and what waits stays', async () => {
  await server.sendItems([report('maud'), report('tom'), report('wren')]);
  const [first, second] = await server.database('reports').orderBy('id').pluck('id');
  await server.database('reports').where({ id: first }).update({ state: 'failed', problem: 'no idea' });
  await server.database('reports').where({ id: second }).update({ state: 'waiting' });
  await server.database('reports').update({ received_at: new Date(Date.now() - days(400)) });
  await keep(limits({ reports: { days: 365 } }));
  expect(await server.database('reports').orderBy('id').pluck('state')).toEqual(['waiting', 'emptied']);
});

it('a case is deleted with all its reports; what comes later of its cause makes a new one', async () => {
  await server.sendItems([report('maud'), report('tom'), report('wren', 'Nest.hide(Nest.java:3)')]);
  expect(await deleteWholeCase(server.services, server.app, 'LG-1')).toEqual({ reports: 2 });
  await expect(deleteWholeCase(server.services, server.app, 'LG-1')).rejects.toThrow(/no case/i);
  await server.settled();
  expect(await countOf('reports')).toBe(1);
  await server.sendItems([report('ines')]);
  expect((await list()).cases.map(({ ref, reports }) => `${ref} ${reports}`).sort()).toEqual(['LG-2 1', 'LG-3 1']);
});

it('an app is deleted with everything it holds, once its name was written, and another may be called like it', async () => {
  const one = report('maud');
  const at = new Date().toISOString();
  const session = { type: 'session', id: randomUUID(), sequence: 0, at, startedAt: at, version: '4.3.0', build: '430', personId: 'maud' };
  await server.sendItems([one, attachmentOf(one.id), session]);
  await server.uploadSymbols(new TextEncoder().encode('com.larkfield.A -> a:\n'), { version: '4.3.0', build: '430' });
  await server.settled();
  await expect(deleteWholeApp(server.services, server.app, { name: 'guide!' })).rejects.toThrow(/must be "Guide"/);
  await server.services.sessions.ask('lookNow', server.app.id);
  await deleteWholeApp(server.services, server.app, { name: 'Guide' });
  const answer = await server.send('/intake/v1/batch', JSON.stringify(report('tom')));
  expect([answer.status, answer.body.error.code]).toEqual([401, 'key-unknown']);
  await server.settled();
  const [tables] = (await server.database.raw(
    "SELECT DISTINCT table_name AS name FROM information_schema.columns WHERE table_schema = DATABASE() AND column_name = 'app_id'",
  )) as [{ name: string }[]];
  const left: string[] = [];
  for (const { name } of tables) if ((await server.database(name).where({ app_id: server.app.id }).limit(1)).length > 0) left.push(name);
  // Other processes have yet to be told of what changed.
  expect(left.filter((name) => name !== 'changes' && name !== 'change_log')).toEqual([]);
  expect(await countOf('apps')).toBe(0);
  // What was kept of it in memory is no trouble to the sums of other apps.
  await server.services.sessions.ask('keepAll', 0);
});
