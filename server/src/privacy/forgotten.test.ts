import { randomUUID } from 'node:crypto';
import { readdirSync, readFileSync, statSync } from 'node:fs';
import { basename, join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { inflateSync } from 'node:zlib';
import { keyOfContact, keyOfPerson } from '@rough-ember/store/context-columns';
import { addFilterable } from '@rough-ember/store/filterable-attributes';
import { keepForward } from '@rough-ember/store/forwards';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { forgetPerson } from '../desk/person.ts';
import { startTestServer, type TestServer } from '../testing/test-server.ts';
import { deleteOneReport } from './delete.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
  // What waits to be forwarded is forgotten too: this receiver is asked in a hundred years.
  const later = new Date(Date.now() + 36_500 * 86_400_000);
  const forward = { address: 'https://collector.example/v1/logs', headerName: null, headerValue: null, mayReachPrivate: false };
  await keepForward(server.database, server.app.id, { ...forward, changedBy: 'ines' }, later);
  await addFilterable(server.database, { appId: server.app.id, name: 'nickname', askedBy: 'ines' });
});
afterAll(() => server.stop());

/** Stands in every text that the person's devices send, and nowhere else. */
const word = 'Qxwren';
const person = { personId: `${word}-id`, contact: `${word} by pigeon`, installationId: randomUUID() };
const now = new Date().toISOString();
const sessionId = randomUUID();

const context = (words: string) => ({
  version: '4.3.0',
  build: '430',
  os: { name: 'Android', version: `15 ${words}` },
  device: { model: `Phone of ${words}` },
  carrier: `${words} Mobile`,
  locale: `en-${words}`,
  flags: { [`flag ${words}`]: `variant ${words}` },
  attributes: { nickname: words, [`note ${words}`]: [`${words} one`, `${words} two`] },
});

const reportOf = (who: object, words: string, frame = 'Perch.sit(Perch.java:7)') => ({
  type: 'report',
  id: randomUUID(),
  kind: 'crash',
  occurredAt: now,
  ...context(words),
  ...who,
  [`unknown ${words}`]: words,
  exceptions: [
    {
      type: 'java.lang.IllegalStateException',
      stack: `java.lang.IllegalStateException: no perch for ${words}\n\tat com.larkfield.guide.${frame}`,
    },
  ],
  threads: [{ name: `thread ${words}` }],
  sections: [{ name: `section ${words}`, text: `lines of ${words}` }],
  trail: [
    { kind: 'screen', at: now, name: `screen ${words}` },
    { kind: 'tap', at: now, target: 'save', text: words },
    { kind: 'log', at: now, message: `hello ${words}` },
    { kind: 'custom', at: now, name: `event ${words}`, attributes: { who: words } },
    { kind: 'request', at: now, method: 'GET', host: 'birds.example', path: `/people/${words}` },
  ],
});

async function sendAs(client: string, ...items: object[]): Promise<void> {
  const lines = items.map((item) => JSON.stringify(item)).join('\n');
  const { body } = await server.send('/intake/v1/batch', lines, { 'user-agent': client });
  expect(body.items.map((item) => item.outcome)).toEqual(items.map(() => 'accepted'));
  await server.settled();
}

/** Every value of every column of every table, as text in which words can be looked for. */
async function everyValue(): Promise<{ readonly place: string; readonly text: string }[]> {
  const [tables] = (await server.database.raw(
    "SELECT table_name AS name FROM information_schema.tables WHERE table_schema = DATABASE() AND table_type = 'BASE TABLE'",
  )) as [{ name: string }[]];
  const values: { place: string; text: string }[] = [];
  for (const { name } of tables)
    for (const row of await server.database(name).select('*'))
      for (const [column, value] of Object.entries(row as Record<string, unknown>))
        if (value !== null) values.push({ place: `${name}.${column}`, text: wordValue(value) });
  return values;
}

function wordValue(value: unknown): string {
  if (!Buffer.isBuffer(value)) return typeof value === 'object' ? JSON.stringify(value) : String(value);
  let opened = '';
  try {
    opened = inflateSync(value).toString('latin1');
  } catch {
    // It is not deflated.
  }
  return `${value.toString('latin1')} ${value.toString('hex')} ${opened}`;
}

/** Where a word or the key of somebody is still to be found. */
async function placesOf(...needles: readonly string[]): Promise<string[]> {
  const found = (await everyValue()).filter(({ text }) => needles.some((one) => text.toLowerCase().includes(one.toLowerCase())));
  return [...new Set(found.map(({ place }) => place))].sort();
}

/** The files of the database's tables with a word in them, once all that was changed and deleted has come to them. */
async function filesWith(needle: string): Promise<string[]> {
  const [[{ folder, name }]] = await server.database.raw('SELECT @@datadir AS folder, DATABASE() AS name');
  await server.database.raw('SET GLOBAL innodb_max_dirty_pages_pct = 0');
  const notYet =
    "SHOW GLOBAL STATUS WHERE Variable_name IN ('Innodb_history_list_length', 'Innodb_buffer_pool_pages_dirty') AND Value <> '0'";
  while ((await server.database.raw(notYet))[0].length > 0) await pause(100);
  await server.database.raw('SET GLOBAL innodb_max_dirty_pages_pct = DEFAULT');
  return [...filesIn(join(folder, name))].filter((file) => readFileSync(file).includes(needle)).map((file) => basename(file));
}

function* filesIn(folder: string): Iterable<string> {
  for (const name of readdirSync(folder)) {
    const path = join(folder, name);
    if (statSync(path).isDirectory()) yield* filesIn(path);
    else yield path;
  }
}

const traces = [
  word,
  person.installationId.replaceAll('-', ''),
  person.installationId,
  keyOfPerson(person.personId).toString('hex'),
  keyOfContact(person.contact).toString('hex'),
];

it('of somebody who was forgotten no word and no key is left in any table or file', async () => {
  const own = reportOf(person, word);
  const attachment = {
    type: 'attachment',
    id: randomUUID(),
    reportId: own.id,
    kind: 'log',
    name: `${word}.txt`,
    mediaType: 'text/plain',
    data: Buffer.from(`log of ${word}\n`.repeat(10_000)).toString('base64'),
  };
  const session = {
    type: 'session',
    id: sessionId,
    sequence: 0,
    at: now,
    startedAt: now,
    ...context(word),
    ...person,
    screens: [{ name: `screen ${word}`, visits: 1 }],
  };
  // The first report of a case gives it its words, and one case is this person's alone.
  await sendAs(`${word}'s client/1.0`, own, attachment, session, reportOf(person, word, 'Nest.hide(Nest.java:3)'));
  await sendAs('other client/1.0', reportOf({ personId: 'maud' }, 'Maud'), {
    ...session,
    id: randomUUID(),
    ...context('Maud'),
    personId: 'maud',
    contact: null,
    installationId: null,
    screens: [],
  });
  await server.send(
    '/v1/logs',
    JSON.stringify({
      resourceLogs: [
        {
          scopeLogs: [
            {
              logRecords: [
                { body: { stringValue: `${word} by the way` }, attributes: [{ key: 'session.id', value: { stringValue: sessionId } }] },
              ],
            },
          ],
        },
      ],
    }),
    { 'content-type': 'application/json' },
  );
  await server.services.sessions.ask('lookNow', server.app.id);
  await server.services.sessions.ask('keepAll', 0);
  const before = await placesOf(...traces);
  for (const place of [
    'cases.message',
    'terms.value',
    'attachments.content',
    'session_days.content',
    'session_trails.event',
    'intake_log.details',
  ])
    expect(before).toContain(place);

  expect(await filesWith(word)).toEqual(expect.arrayContaining(['attachments.ibd', 'cases.ibd', 'terms.ibd']));

  expect(await forgetPerson(server.services, server.app, person.personId)).toEqual({ reports: 2, sessions: 1 });
  await server.settled();
  await server.services.sessions.ask('lookNow', server.app.id);
  await server.services.sessions.ask('keepAll', 0);
  // For as long as other processes may have to be told, the log of changes names who is to be counted anew, by a hash.
  expect(await placesOf(...traces)).toEqual(['change_log.subject_keys']);
  expect(await placesOf(word)).toEqual([]);
  expect(await filesWith(word)).toEqual([]);
  for (const file of filesIn(server.services.settings.dataFolder)) expect(readFileSync(file, 'latin1')).not.toContain(word);

  // What others sent stays, and the case that both were in is told in their words.
  const cases = await server.database('cases').select('what', 'where_text', 'message');
  expect(cases).toEqual([{ what: 'IllegalStateException', where_text: 'Perch.sit', message: 'no perch for Maud' }]);
  expect(await server.database('terms').where({ value: 'Maud' }).pluck('field')).toContain('attributes');
});

it('a report that is deleted takes its words along, and a case that is left empty goes', async () => {
  const lone = reportOf({ personId: 'tom' }, 'Zyrobin', 'Feeder.fill(Feeder.java:9)');
  await sendAs('client/1.0', lone);
  expect(await placesOf('Zyrobin')).toContain('cases.message');
  await deleteOneReport(server.services, server.app, lone.id);
  await server.settled();
  expect(await placesOf('Zyrobin')).toEqual([]);
  expect(await server.database('cases').count({ count: '*' })).toEqual([{ count: 1 }]);
  await expect(deleteOneReport(server.services, server.app, lone.id)).rejects.toThrow(/no report/);
});
