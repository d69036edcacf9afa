import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { createApp } from '@rough-ember/store/apps';
import { listIntakeLog } from '@rough-ember/store/intake-log';
import { listSymbolFiles } from '@rough-ember/store/symbol-files';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { issueToken } from '../accounts/issue-credentials.ts';
import { guideFile, startTestServer, type TestServer } from '../testing/test-server.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer({ EMBER_SYMBOL_LIMIT_MB: '2' });
});
afterAll(() => server.stop());

const base64 = (text: string) => Buffer.from(text).toString('base64');
const ask = (method: string, path: string, headers: Record<string, string>, body?: Uint8Array, token = server.uploadToken) =>
  fetch(server.address + path, {
    method,
    headers: { authorization: `Bearer ${token}`, 'tus-resumable': '1.0.0', ...headers },
    ...(body ? { body: body as BodyInit } : {}),
  });

const metadata = `version ${base64('4.3.1')},build ${base64('431')},name ${base64('mapping.txt')},app ${base64('99')},by ${base64('somebody else')}`;
async function begin(length: number, path = '/api/v1/apps/guide/symbol-uploads'): Promise<string> {
  const begun = await ask('POST', path, { 'upload-length': String(length), 'upload-metadata': metadata });
  expect(begun.status).toBe(201);
  const location = begun.headers.get('location') ?? '';
  expect(location).toMatch(/^\/api\/v1\/apps\/guide\/symbol-uploads\/[0-9a-f]{32}$/);
  return location;
}
const sendPart = (location: string, offset: number, bytes: Uint8Array, token?: string) =>
  ask('PATCH', location, { 'upload-offset': String(offset), 'content-type': 'application/offset+octet-stream' }, bytes, token);

describe('an upload in parts', () => {
  it('is taken up where it was left, and ends as any other upload', async () => {
    const mapping = guideFile('4.3.1/mapping.txt');
    const location = await begin(mapping.length);
    expect((await sendPart(location, 0, mapping.subarray(0, 5_000))).headers.get('upload-offset')).toBe('5000');
    expect((await ask('HEAD', location, {})).headers.get('upload-offset')).toBe('5000');
    // A part that does not follow on the last one would leave a hole.
    expect((await sendPart(location, 4_000, mapping.subarray(4_000, 6_000))).status).toBe(409);

    const done = await sendPart(location, 5_000, mapping.subarray(5_000));
    expect([done.status, await done.json()]).toEqual([202, expect.objectContaining({ state: 'indexing', version: '4.3.1', isNew: true })]);
    await server.settled();
    const [file] = await listSymbolFiles(server.database, server.app.id);
    // Whose upload it is, and for which app, is not the sender's to say.
    expect(file).toMatchObject({ state: 'ready', fileName: 'mapping.txt', sizeBytes: mapping.length, uploadedBy: 'token ci' });
    expect(readdirSync(join(server.services.settings.dataFolder, 'symbols', 'incoming'))).toEqual([]);
    const [entry] = await listIntakeLog(server.database, { appId: server.app.id, strangers: false, limit: 1 });
    expect(entry).toMatchObject({ keyName: 'token ci' });
  });

  it('belongs to the app it was begun for', async () => {
    const other = await createApp(server.database, { slug: 'field', name: 'Field', prefix: 'LF', platforms: ['Android'], ourPackages: [] });
    const token = await issueToken(server.database, { appId: other?.id as number, name: 'ci', scope: 'upload' });
    const location = await begin(10);
    const strange = location.replace('/guide/', '/field/');
    expect((await sendPart(strange, 0, new Uint8Array(10), token)).status).toBe(404);
    expect((await sendPart(location, 0, new Uint8Array(10), token)).status).toBe(403);
    expect((await ask('HEAD', location, {}, undefined, 'upload_nothing')).status).toBe(401);
  });

  it('is refused for what is wrong with it, in the same words as in one piece', async () => {
    const tooLarge = await ask('POST', '/api/v1/apps/guide/symbol-uploads', { 'upload-length': String(3 << 20) });
    expect([tooLarge.status, await tooLarge.json()]).toEqual([413, expect.objectContaining({ limitBytes: 2 << 20 })]);
    expect((await ask('POST', '/api/v1/apps/guide/symbol-uploads', {})).status).toBe(400);

    const picture = new TextEncoder().encode('\x89PNG\r\n\x1a\n and so on');
    const refused = await sendPart(await begin(picture.length), 0, picture);
    expect([refused.status, await refused.json()]).toEqual([
      422,
      { error: expect.objectContaining({ code: 'not-a-symbol-file', message: expect.stringContaining('Symbol files are') }) },
    ]);
    expect(
      readdirSync(join(server.services.settings.dataFolder, 'symbols', 'incoming')).filter((name) => !name.endsWith('.json')),
    ).toHaveLength(1);
  });
});
