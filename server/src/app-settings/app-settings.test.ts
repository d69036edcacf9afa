import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { issueToken } from '../accounts/issue-credentials.ts';
import { startTestServer, type TestServer } from '../testing/test-server.ts';

let server: TestServer;
let writer: string;
beforeAll(async () => {
  server = await startTestServer();
  writer = await issueToken(server.database, { appId: server.app.id, name: 'writer', scope: 'write' });
});
afterAll(() => server.stop());

async function call(method: string, path: string, { body, token = writer }: { body?: object; token?: string } = {}) {
  const answer = await fetch(`${server.address}/api/v1${path}`, {
    method,
    headers: { authorization: `Bearer ${token}`, 'content-type': 'application/json' },
    ...(body ? { body: JSON.stringify(body) } : {}),
  });
  return { status: answer.status, body: await answer.json() };
}
const settings = async () => (await call('GET', '/apps/guide/settings')).body;
const facts = { name: 'Guide', platforms: ['Android'], ourPackages: ['com.larkfield'] };

describe('the settings of an app', () => {
  it('are told in one place, whatever page changes them', async () => {
    expect(await settings()).toMatchObject({
      app: { ...facts, prefix: 'LG', zone: null },
      intakeKeys: 1,
      scrub: { mail: true },
      retention: { reports: { days: null } },
      groupingRules: 0,
      changes: [],
    });
  });

  it('are changed with a history of who and what, and nothing is kept of what was so already', async () => {
    expect(
      (await call('PUT', '/apps/guide', { body: { ...facts, name: 'Larkfield Guide', platforms: ['Android', 'Linux'] } })).status,
    ).toBe(200);
    await call('PUT', '/apps/guide', { body: { ...facts, name: 'Larkfield Guide', platforms: ['Android', 'Linux'] } });
    const scrub = { ...(await settings()).scrub, phones: true };
    expect((await call('PUT', '/apps/guide/scrub-rules', { body: scrub })).status).toBe(200);
    expect((await settings()).changes).toMatchObject([
      { setting: 'scrub-rules', by: 'token writer', before: {}, mayUndo: true },
      { setting: 'platforms', before: ['Android'], after: ['Android', 'Linux'], mayUndo: true },
      { setting: 'name', before: 'Guide', after: 'Larkfield Guide', mayUndo: true },
    ]);
  });

  it('are undone one by one, unless they were changed again since', async () => {
    const undo = async (setting: string, at = 0) => {
      const { changes } = await settings();
      const { id } = changes.filter((one: { setting: string }) => one.setting === setting)[at];
      return call('POST', `/apps/guide/settings/changes/${id}/undo`);
    };
    expect((await undo('name')).status).toBe(200);
    expect((await settings()).app).toMatchObject({ name: 'Guide', platforms: ['Android', 'Linux'] });
    // The undoing stands in the history too; what it undid is no longer how things are.
    expect((await settings()).changes[0]).toMatchObject({ setting: 'name', before: 'Larkfield Guide', after: 'Guide', mayUndo: true });
    const late = await undo('name', 1);
    expect([late.status, late.body.error.code]).toEqual([409, 'overtaken']);
    expect((await undo('scrub-rules')).status).toBe(200);
    // What was set for the first time is unset again.
    await call('PUT', '/apps/guide/stability-settings', { body: { ...(await settings()).stability, targetPercent: 91 } });
    expect((await undo('stability')).status).toBe(200);
    expect((await settings()).stability.targetPercent).not.toBe(91);
    expect((await call('POST', '/apps/guide/settings/changes/99999/undo')).status).toBe(404);
  });

  it.each([
    [{ ...facts, name: ' ' }, /give it a name/],
    [{ ...facts, platforms: [] }, /at least one/],
    [{ ...facts, platforms: ['Toaster'] }, /platforms/],
    [{ ...facts, ourPackages: ['com larkfield'] }, /is a package/],
  ])('%j is refused', async (body, message) => {
    const answer = await call('PUT', '/apps/guide', { body });
    expect([answer.status, answer.body.error.message]).toEqual([400, expect.stringMatching(message)]);
  });

  it('are read with a token that may read, and changed with none', async () => {
    const token = await issueToken(server.database, { appId: server.app.id, name: 'reader', scope: 'read' });
    expect((await call('GET', '/apps/guide/settings', { token })).status).toBe(200);
    expect((await call('PUT', '/apps/guide', { token, body: facts })).status).toBe(403);
    expect((await call('POST', '/apps/guide/settings/changes/1/undo', { token })).status).toBe(403);
  });

  it('of the server are told to owners alone', async () => {
    expect((await call('GET', '/server-settings')).status).toBe(403);
  });
});
