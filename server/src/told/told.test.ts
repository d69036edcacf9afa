import type { CaseAction } from '@rough-ember/core/cases/case-status';
import { createAccount, findAccountByEmail } from '@rough-ember/store/accounts';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { addNote, runCaseActions, undoLast } from '../desk/case-actions.ts';
import { startTestServer, type TestServer } from '../testing/test-server.ts';
import { changeFollowing } from './follow.ts';
import { loadTold, loadUnread, readTold } from './load-told.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
  const create = (name: string, appIds: readonly number[] | null) =>
    createAccount(server.database, { email: `${name}@larkfield.example`, name, role: 'developer', appIds, passwordHash: '' });
  for (const name of ['ines', 'tom', 'wren', 'odd']) await create(name, null);
  // She sees other apps than this one.
  await create('elsewhere', [4_711]);
  await send('4.3.0');
});
afterAll(() => server.stop());

const now = new Date();
const send = async (version: string) => {
  const stack = 'java.lang.IllegalStateException: no perch\n\tat com.larkfield.guide.Perch.sit(Perch.java:12)\n';
  await server.send(`/intake/v1/file?version=${version}&build=1`, stack);
  await server.settled();
};
const mail = (name: string) => `${name}@larkfield.example`;
const person = async (name: string) => {
  const found = await findAccountByEmail(server.database, mail(name));
  if (!found) throw new Error(`there is no ${name}`);
  return found;
};
const note = (name: string, text: string) => addNote(server.services, server.app, { ref: 'LG-1', actor: mail(name), text });
const act = (name: string, action: CaseAction) =>
  runCaseActions(server.services, { app: server.app, actor: mail(name), request: { cases: ['LG-1'], action }, now });
const toldTo = async (name: string, unread: '0' | '1' = '0') =>
  (await loadTold(server.database, { account: await person(name), query: { unread }, now: new Date() })).items;
const reasons = async (name: string) => (await toldTo(name)).map(({ kind, reason }) => `${kind} ${reason}`);

it('tells whom a note mentions, once, and nobody of what they did themselves', async () => {
  await note('ines', 'see @tom, and @ines too; mail elsewhere@larkfield.example, @elsewhere');
  expect(await reasons('tom')).toEqual(['note mentioned']);
  expect(await reasons('ines')).toEqual([]);
  expect(await reasons('wren')).toEqual([]);
  expect(await reasons('elsewhere')).toEqual([]);
  const [item] = await toldTo('tom');
  expect(item).toMatchObject({
    actor: mail('ines'),
    app: { slug: server.app.slug, name: server.app.name },
    case: { ref: 'LG-1', what: 'IllegalStateException', where: 'Perch.sit' },
    isRead: false,
  });
});

it('tells whom a case is given to, and from then on what others and reports do to it', async () => {
  await act('tom', { action: 'assign', assignee: mail('wren') });
  expect(await reasons('wren')).toEqual(['assign assigned']);
  expect(await reasons('ines')).toEqual(['assign takes-part']);
  await act('tom', { action: 'close', version: '4.3.1' });
  await send('4.3.2');
  expect(await reasons('wren')).toEqual(['reopened takes-part', 'close takes-part', 'assign assigned']);
  // Of what he did himself he hears nothing, and of the report that came all the same.
  expect((await reasons('tom'))[0]).toBe('reopened takes-part');
});

it('forgets what was taken back', async () => {
  await act('tom', { action: 'close', version: '4.3.3' });
  expect((await reasons('wren'))[0]).toBe('close takes-part');
  const [last] = await server.database('case_events').where({ kind: 'close' }).orderBy('id', 'desc').limit(1).pluck('id');
  await undoLast(server.services, server.app, { ref: 'LG-1', actor: mail('tom'), event: last });
  expect((await reasons('wren'))[0]).toBe('reopened takes-part');
});

it('marks what was read, and no more', async () => {
  const wren = await person('wren');
  const [newest, second] = await toldTo('wren');
  const before = await loadUnread(server.database, wren);
  expect(await readTold(server.database, wren, { ids: [newest?.id ?? 0] }, now)).toBe(before - 1);
  expect((await toldTo('wren', '1')).map(({ id }) => id)).not.toContain(newest?.id);
  // Of somebody else it marks nothing.
  const tom = await person('tom');
  const unreadOfTom = await loadUnread(server.database, tom);
  await readTold(server.database, wren, { ids: (await toldTo('tom')).map(({ id }) => id) }, now);
  expect(await loadUnread(server.database, tom)).toBe(unreadOfTom);
  expect(await readTold(server.database, wren, { upTo: second?.id ?? 0 }, now)).toBe(0);
  await note('tom', 'one more for @wren');
  expect(await loadUnread(server.database, wren)).toBe(1);
});

it('tells nothing any more of an app that somebody does not see any more', async () => {
  await server
    .database('accounts')
    .where({ email: mail('wren') })
    .update({ app_ids: '[4711]' });
  expect(await toldTo('wren')).toEqual([]);
  expect(await loadUnread(server.database, await person('wren'))).toBe(0);
});

it('tells once of each event, and nothing when what happened is rolled back', async () => {
  const count = async () => Number((await server.database('told').count({ count: '*' }))[0]?.count);
  const [before, events] = [await count(), await server.database('case_events').count({ count: '*' })];
  await expect(
    server.database.transaction(async (transaction) => {
      const { recordEvent } = await import('@rough-ember/store/case-events');
      const [caseId] = await transaction('cases').where({ app_id: server.app.id }).limit(1).pluck('id');
      await recordEvent(transaction, { case_id: caseId, actor: mail('ines'), kind: 'note', detail: { text: '@tom' }, before: null });
      throw new Error('the server ends here');
    }),
  ).rejects.toThrow('the server ends here');
  expect(await count()).toBe(before);
  expect(await server.database('case_events').count({ count: '*' })).toEqual(events);
});

it('tells whoever follows, as long as they do', async () => {
  const follow = async (follows: boolean) =>
    changeFollowing(server.services, server.app, { ref: 'LG-1', account: await person('odd'), follows });
  expect(await follow(true)).toEqual({ follows: true, followers: 1 });
  expect(await follow(true)).toEqual({ follows: true, followers: 1 });
  await note('ines', 'it is the tiles again');
  expect(await reasons('odd')).toEqual(['note follows']);
  expect(await follow(false)).toEqual({ follows: false, followers: 0 });
  await note('ines', 'no, the cache');
  expect(await reasons('odd')).toEqual(['note follows']);
});
