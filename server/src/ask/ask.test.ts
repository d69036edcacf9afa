import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { issueToken } from '../accounts/issue-credentials.ts';
import { startTestServer, type TestServer } from '../testing/test-server.ts';

let server: TestServer;
let writer: string;
let other: string;
beforeAll(async () => {
  server = await startTestServer();
  writer = await issueToken(server.database, { appId: server.app.id, name: 'team', scope: 'write' });
  other = await issueToken(server.database, { appId: server.app.id, name: 'colleague', scope: 'write' });
  await server.sendItems([
    ...['warden-1', 'warden-1', 'warden-2', 'warden-3'].map((person, at) =>
      crash({ person, country: at < 3 ? 'NO' : 'DE', attributes: { tiles: 10 * (at + 1) } }),
    ),
    crash({ person: 'warden-4', country: 'SE', daysAgo: 40 }),
    ...['warden-1', 'warden-2', 'warden-3', 'warden-5'].map((person) => session(person)),
  ]);
  await server.settled();
});
afterAll(() => server.stop());

const at = (daysAgo: number) => new Date(Date.now() - daysAgo * 86_400_000 - 60_000).toISOString();
const about = (person: string) => ({ version: '4.3.0', build: '1', personId: person, installationId: randomUUID() });
const crash = ({
  person,
  country,
  daysAgo = 0,
  attributes = {},
}: {
  person: string;
  country: string;
  daysAgo?: number;
  attributes?: object;
}) => ({
  ...{ type: 'report', id: randomUUID(), kind: 'crash', occurredAt: at(daysAgo), country, attributes },
  ...about(person),
  exceptions: [{ type: 'java.lang.Error', message: 'no perch' }],
});
const session = (person: string) => ({
  type: 'session',
  id: randomUUID(),
  sequence: 0,
  at: at(0),
  startedAt: at(0),
  state: 'ended',
  ...about(person),
});

async function call(method: string, path: string, { token = writer, body }: { token?: string | null; body?: object } = {}) {
  const answer = await fetch(`${server.address}/api/v1${path}`, {
    method,
    headers: { ...(token === null ? {} : { authorization: `Bearer ${token}` }), 'content-type': 'application/json' },
    ...(body ? { body: JSON.stringify(body) } : {}),
  });
  return { status: answer.status, body: await answer.json() };
}
const ask = (question: string, scope = '') => call('GET', `/apps/guide/ask?${scope}&question=${encodeURIComponent(question)}`);
const named = ({ body }: Awaited<ReturnType<typeof ask>>) =>
  Object.fromEntries(
    body.groups.map(({ places, sum }: { places: number[]; sum: { value: number } }) => [
      places.map((place, split) => body.splits[split].values[place]).join(' | '),
      sum.value,
    ]),
  );

describe('a question', () => {
  it('is answered with what was counted, in all and by part', async () => {
    expect(named(await ask('affected people by country'))).toEqual({ NO: 2, DE: 1 });
    expect(named(await ask('reports by country', 'last=all'))).toEqual({ NO: 3, DE: 1, SE: 1 });
    const rate = await ask('affected people per people');
    expect(rate.body.total).toMatchObject({ value: 750, count: 3, per: 4 });
    expect(rate.body.total.low).toBeGreaterThan(250);
  });

  it('compares with the window before, where nothing was counted with nought', async () => {
    const { body } = await ask('reports by country as before and after');
    const before = body.groups.map(({ before: was }: { before: { value: number } }) => was.value);
    expect(before).toEqual([0, 0]);
    expect(body.before.value).toBe(1);
  });

  it('says which of it sessions could not be asked, and divides reports alone by it', async () => {
    const { body } = await ask('reports per sessions by kind', `filter=${encodeURIComponent('stack:perch OR country = NO')}`);
    expect(body).toMatchObject({ undivided: ['kind'], unasked: [expect.stringContaining('perch')] });
    expect(body.groups[0].sum).toMatchObject({ count: 3, per: 4 });
  });

  it('about an attribute that is not filterable says so, and tells it once it is', async () => {
    expect((await ask('mean of attributes.tiles')).body).toMatchObject({ notFilterable: ['tiles'], groups: [], total: { value: null } });
    expect((await call('POST', '/apps/guide/attributes', { body: { name: 'tiles' } })).status).toBe(202);
    await server.settled();
    const { body } = await ask('mean of attributes.tiles');
    expect(body).toMatchObject({ notFilterable: [], total: { value: 25, count: 4 } });
    expect(body.histogram.counts.reduce((sum: number, one: number) => sum + one, 0)).toBe(4);
  });

  it.each([
    ['birds', /"birds" is not something to count/],
    ['people by screen', /sessions do not tell screen/],
    ['people per hour', /counted by day/],
  ])('%s is refused in words that say what would do', async (question, message) => {
    const { status, body } = await ask(question);
    expect(status).toBe(400);
    expect(body.error.message).toMatch(message);
  });

  it('without one is told that one is missing', async () => {
    expect((await call('GET', '/apps/guide/ask')).status).toBe(400);
    expect((await call('GET', '/apps/guide/ask?question=reports', { token: null })).status).toBe(401);
  });
});

describe('a sheet', () => {
  const chart = { title: 'Countries', question: 'affected people by country' };
  const make = async (more: object = {}, token = writer) =>
    (await call('POST', '/apps/guide/sheets', { token, body: { title: 'Marsh', charts: [chart], ...more } })).body.name as string;

  it('is kept for oneself or for the team, and is nobody else’s', async () => {
    const [own, team] = [await make(), await make({ title: 'Reed', forTeam: true })];
    expect((await call('GET', `/apps/guide/sheets/${own}`, { token: other })).status).toBe(404);
    expect((await call('GET', `/apps/guide/sheets/${team}`, { token: other })).body).toMatchObject({
      title: 'Reed',
      revision: 1,
      madeBy: 'token team',
    });
    const listed = (await call('GET', '/apps/guide/sheets', { token: other })).body as { name: string; isExample: boolean }[];
    expect(listed.filter((one) => !one.isExample).map(({ name }) => name)).toEqual([team]);
    expect(listed.filter((one) => one.isExample)).toHaveLength(10);
    for (const method of ['PUT', 'DELETE'])
      expect((await call(method, `/apps/guide/sheets/${own}`, { token: other, body: { title: 'Mine', revision: 1 } })).status).toBe(404);
  });

  it('that somebody else changed meanwhile is not overwritten', async () => {
    const name = await make({ forTeam: true });
    const change = (title: string, revision: number, token = writer) =>
      call('PUT', `/apps/guide/sheets/${name}`, { token, body: { title, forTeam: true, charts: [chart], revision } });
    expect((await change('First', 1)).body).toEqual({ revision: 2 });
    const late = await change('Second', 1, other);
    expect([late.status, late.body.error.code]).toEqual([409, 'overtaken']);
    expect((await call('GET', `/apps/guide/sheets/${name}`)).body.title).toBe('First');
  });

  it('takes one more chart at a time, however many at once, and none that cannot be asked', async () => {
    const name = await make({ charts: [] });
    const put = (title: string) => call('POST', `/apps/guide/sheets/${name}/charts`, { body: { ...chart, title } });
    const answers = await Promise.all(['a', 'b', 'c'].map(put));
    const { charts } = (await call('GET', `/apps/guide/sheets/${name}`)).body;
    const kept = answers.filter(({ status }) => status === 201).length;
    expect(charts).toHaveLength(kept);
    expect(kept).toBeGreaterThan(0);
    for (const { status } of answers) expect([201, 409]).toContain(status);
    const refused = await call('POST', `/apps/guide/sheets/${name}/charts`, { body: { ...chart, question: 'birds' } });
    expect([refused.status, refused.body.error.message]).toEqual([400, expect.stringContaining('birds')]);
  });

  it('that ships with the product is read by everybody and changed by nobody', async () => {
    expect((await call('GET', '/apps/guide/sheets/monday')).body).toMatchObject({ title: 'Monday morning', isExample: true });
    expect((await call('PUT', '/apps/guide/sheets/monday', { body: { title: 'Mine', revision: 1 } })).status).toBe(404);
  });

  it('is shown to whoever has its link, its charts and nothing else, until it is revoked', async () => {
    const name = await make({ scope: 'last=all' });
    // Tokens make no links: whoever has one could show the app to the world.
    expect((await call('POST', `/apps/guide/sheets/${name}/link`)).status).toBe(403);
    const { makeSheetLink, endSheetLink } = await import('./sheets.ts');
    const reader = { appId: server.app.id, person: 'token team' };
    const { link } = await makeSheetLink({ database: server.database, publicUrl: server.address }, reader, name);
    const secret = link.slice(link.lastIndexOf('/') + 1);
    const look = (path: string) => call('GET', `/shared-sheets/${path}`, { token: null });
    expect((await look(secret)).body).toMatchObject({ app: 'Guide', title: 'Marsh', charts: [{ title: 'Countries' }] });
    expect((await look(`${secret}/charts/0`)).body.total.value).toBe(4);
    expect((await look(`${secret}/charts/1`)).status).toBe(404);
    expect((await look(`${secret}/charts/-1`)).status).toBe(404);
    expect((await look(`${secret.slice(0, -1)}x`)).status).toBe(404);
    expect(JSON.stringify(await server.database('sheets'))).not.toContain(secret);
    await endSheetLink(server.database, reader, name);
    expect((await look(secret)).status).toBe(404);
  });
});
