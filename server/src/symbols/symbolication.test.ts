import { readFileSync, writeFileSync } from 'node:fs';
import { Readable } from 'node:stream';
import { sourceOf } from '@rough-ember/core/bytes/byte-source';
import { defaultScope } from '@rough-ember/core/scope/scope';
import { indexSymbolFile } from '@rough-ember/core/symbols/index-symbol-file';
import { guideBuilds } from '@rough-ember/demo/guide-builds';
import { listIntakeLog } from '@rough-ember/store/intake-log';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { loadCaseFile } from '../desk/case-file.ts';
import { loadCaseList } from '../desk/case-list.ts';
import { guideFile, startTestServer, type TestServer } from '../testing/test-server.ts';
import { loadSymbolOverview } from './symbol-overview.ts';

let server: TestServer;
beforeAll(async () => {
  server = await startTestServer();
});
afterAll(() => server.stop());

const scope = { ...defaultScope, days: null };
const list = () => loadCaseList(server.services, { app: server.app, scope, now: new Date() });
const open = (ref: string) => loadCaseFile(server.services, { app: server.app, ref, scope, position: 0, now: new Date() });

describe('from an obfuscated crash to a readable case', () => {
  it('keeps raw crashes of two builds apart until their mappings come, then joins them without being asked', async () => {
    for (const { version, build } of guideBuilds.slice(-2))
      await server.send(`/intake/v1/file?version=${version}&build=${build}`, guideFile(`${version}/crashes/night-map.txt`) as BodyInit);
    await server.settled();
    expect((await list()).cases.map((item) => [item.ref, item.provisional])).toEqual(
      expect.arrayContaining([
        ['LG-1', true],
        ['LG-2', true],
      ]),
    );
    expect((await open('LG-1'))?.report.missing).toEqual([{ version: '4.3.0', build: '430', kind: 'mapping', symbolId: null, name: null }]);

    for (const { version, build } of guideBuilds.slice(-2)) {
      const answer = await server.uploadSymbols(guideFile(`${version}/mapping.txt`), { version, build });
      expect(answer).toMatchObject({ status: 202, body: { state: 'indexing', isNew: true } });
      await server.settled();
    }
    const { cases } = await list();
    expect(cases.map(({ ref, what, where, reports, provisional }) => ({ ref, what, where, reports, provisional }))).toEqual([
      { ref: 'LG-1', what: 'NullPointerException', where: 'NightMap.tileFor', reports: 2, provisional: false },
    ]);
    expect(cases[0]).toMatchObject({ firstVersion: '4.3.0', lastVersion: '4.3.1' });
  });

  it('answers under the number that moved away', async () => {
    expect(await open('LG-2')).toMatchObject({ item: { ref: 'LG-1' }, movedFrom: 'LG-2' });
    expect(await open('LG-99')).toBeNull();
    expect(await open('XX-1')).toBeNull();
  });

  it('shows names, lines, inlined calls and the raw form', async () => {
    const file = await open('LG-1');
    const frames = file?.report.readable.exceptions[0]?.frames.filter((frame) => frame.ours);
    expect(frames?.slice(1, 3).map(({ function: name, inlined }) => ({ name, inlined }))).toEqual([
      { name: 'com.larkfield.guide.map.NightMap.tileFor', inlined: true },
      { name: 'com.larkfield.guide.map.MapLayer.draw', inlined: true },
    ]);
    expect(file?.report.raw[0]?.frames[0]).toMatch(/^[a-z]\.a\(SourceFile:\d+\)$/);
    expect(file?.report.explanation?.kept).toHaveLength(3);
  });

  it('makes an index again that was damaged on disk', async () => {
    const [row] = await server.database('symbol_files').where({ version: '4.3.0' });
    writeFileSync(`${server.services.symbols.indexPath(row.sha256)}.0`, 'EMBERSYM and then nothing');
    await server.send('/intake/v1/file?version=4.3.0&build=430', guideFile('4.3.0/crashes/species.txt') as BodyInit);
    await server.settled();
    expect((await list()).cases.some((item) => item.where === 'SpeciesIndex.build')).toBe(true);
  });
});

describe('a map id in place of the source file', () => {
  it('finds its mapping, in short form too, when the version of the report was mistyped, whichever comes first', async () => {
    const hash = '3f1c0a9be2d7685f4c3b2a19081726354f5e6d7c8b9a0f1e2d3c4b5a69788796';
    const mapping = (id: string, method: string) =>
      new TextEncoder().encode(
        `# pg_map_id: ${id.slice(0, 7)}\n# pg_map_hash: SHA-256 ${id}\ncom.larkfield.Perch -> a:\n    1:1:void ${method}():7:7 -> b\n`,
      );
    const crash = (id: string, type: string) => `java.lang.${type}: x\n\tat a.b(r8-map-id-${id}:1)\n\tat a.b(SourceFile:1)\n`;
    const named = async (where: string) =>
      (await list()).cases.filter((item) => item.where === where).map(({ provisional }) => provisional);
    await server.send('/intake/v1/file?version=1.9.l&build=991', crash(hash.slice(0, 7), 'Error') as BodyInit);
    await server.settled();
    await server.uploadSymbols(mapping(hash, 'land'), { version: '1.9.1', build: '991' });
    await server.uploadSymbols(mapping(hash.replace(/^3/, '4'), 'start'), { version: '1.9.2', build: '992' });
    await server.settled();
    expect(await named('Perch.land')).toEqual([false]);
    await server.send('/intake/v1/file?version=1.9.3&build=9', crash(hash, 'IllegalStateException') as BodyInit);
    await server.settled();
    expect(await named('Perch.land')).toEqual([false, false]);
    expect(await named('Perch.start')).toEqual([]);
  });
});

describe('from addresses to a readable case', () => {
  const binary = (name: string) => readFileSync(new URL(`../../../core/samples/binaries/built/${name}`, import.meta.url));
  const tombstone = (buildId: string) => `*** *** *** *** *** *** *** *** *** *** *** *** *** *** *** ***
Build fingerprint: 'larkfield/kestrel/kestrel:14/UP1A/1:user/release-keys'
ABI: 'arm64'
pid: 4242, tid: 4260, name: song-worker  >>> com.larkfield.guide <<<
signal 5 (SIGTRAP), code 1 (TRAP_BRKPT), fault addr 0x0000007b2c1f4790
backtrace:
      #00 pc 0000000000004818  /data/app/~~Q/com.larkfield.guide-1/lib/arm64/libsong.so (BuildId: ${buildId})
      #01 pc 000000000008f0c4  /apex/com.android.runtime/lib64/bionic/libc.so (__pthread_start(void*)+208) (BuildId: aabbccdd)
`;
  const buildId = async () => {
    const indexed = await indexSymbolFile(sourceOf(new Uint8Array(binary('clang-arm64-O2.so'))), { fileName: 'libsong.so' });
    return (indexed.ok && indexed.value[0]?.symbolId) || '';
  };

  it('asks for the exact build id, and names the report when that library comes, whatever version it is said to be of', async () => {
    const id = await buildId();
    await server.send('/intake/v1/file?version=7.0.0&build=700', tombstone(id));
    await server.settled();
    const { needs } = await loadSymbolOverview(server.database, server.app);
    expect(needs[0]).toMatchObject({ version: '7.0.0', kind: 'code', symbolId: id, name: 'libsong.so', covered: false, costReports: 1 });

    await server.uploadSymbols(binary('clang-arm64-O3.so'), { version: '7.0.0', build: '700', name: 'libsong.so' });
    await server.settled();
    expect((await loadSymbolOverview(server.database, server.app)).needs[0]).toMatchObject({ covered: false });

    const answer = await server.uploadSymbols(binary('clang-arm64-O2.so'), { name: 'libsong.so' });
    expect(answer.status).toBe(202);
    await server.settled();
    const { needs: mended, files } = await loadSymbolOverview(server.database, server.app);
    expect(mended[0]).toMatchObject({ symbolId: id, covered: true, costReports: 0 });
    expect(files.filter((file) => file.kind === 'code').map(({ version, unused }) => ({ version, unused }))).toEqual([
      { version: '', unused: false },
      { version: '7.0.0', unused: true },
    ]);
    const { cases } = await list();
    const named = cases.find((item) => item.firstVersion === '7.0.0');
    expect(named).toMatchObject({ where: 'lark::smooth', provisional: false });
    const file = await open(named?.ref as string);
    expect(file?.report.readable.exceptions[0]?.frames.map((frame) => [frame.function, frame.line, frame.inlined])).toEqual([
      ['float lark::smooth<3, float>(lark::Window<float> const&, unsigned long)', 27, true],
      ['lark::Detector::find(lark::Window<float> const&) const', 39, false],
      ['__pthread_start(void*)', null, false],
    ]);
  });

  it('refuses a stripped library, and a map that nothing ties to a build, with what to do', async () => {
    const stripped = await server.uploadSymbols(new TextEncoder().encode('{"version":3,"sources":[],"names":[],"mappings":""}'), {
      name: 'main.js.map',
    });
    await server.settled();
    const overview = await loadSymbolOverview(server.database, server.app);
    expect(overview.files.find((file) => file.id === stripped.body.id)).toMatchObject({
      state: 'refused',
      problem: expect.stringContaining('upload it again with both'),
    });
  });
});

describe('an uploaded file', () => {
  it.each([
    ['a picture', Buffer.from([0x89, 0x50, 0x4e, 0x47, 13, 10, 26, 10, 0, 0]), 'a PNG picture'],
    ['a DEX file', Buffer.from('dex\n035\0'), 'a DEX file'],
    ['a crash text', guideFile('4.3.0/crashes/tides.txt'), 'a stack trace'],
    ['nothing', Buffer.alloc(0), 'an empty file'],
  ])('that is %s is refused with what it looks like', async (_, bytes, looksLike) => {
    const answer = await server.uploadSymbols(new Uint8Array(bytes), { version: '4.3.0', build: '430' });
    expect([answer.status, answer.body.error.code]).toEqual([422, 'not-a-symbol-file']);
    expect(answer.body.error.message).toContain(looksLike);
    const [logged] = await listIntakeLog(server.database, { appId: server.app.id, strangers: false, limit: 1 });
    expect(logged).toMatchObject({ keyName: 'token ci', status: 422, refused: 1, reason: expect.stringContaining(looksLike) });
  });

  it('of 100 MB of garbage is refused without being kept', async () => {
    const chunk = Buffer.alloc(1 << 20, 'all work and no play makes a long day\n');
    async function* garbage() {
      for (let sent = 0; sent < 100; sent++) yield new Uint8Array(chunk);
    }
    const answer = await fetch(`${server.address}/api/v1/apps/guide/symbol-files?version=1&build=1`, {
      method: 'POST',
      headers: { authorization: `Bearer ${server.uploadToken}` },
      body: Readable.toWeb(Readable.from(garbage())) as ReadableStream,
      duplex: 'half',
    } as RequestInit);
    expect(answer.status).toBe(422);
    expect((await answer.json()).error.message).toContain('plain text of another kind');
  });

  it('that turns to nonsense after a good head is refused at its index, with the line', async () => {
    const text = `com.larkfield.A -> a:\n${'this is no mapping line\n'.repeat(5_000)}`;
    const { body } = await server.uploadSymbols(new TextEncoder().encode(text), { version: '8.0', build: '800' });
    await server.settled();
    const file = (await loadSymbolOverview(server.database, server.app)).files.find((one) => one.id === body.id);
    expect(file).toMatchObject({ state: 'refused', problem: expect.stringContaining('the first is line 2') });
  });

  it('of a version that runs nowhere is accepted and listed as unused', async () => {
    const answer = await server.uploadSymbols(guideFile('4.1.0/mapping.txt'), { version: '9.9.9', build: '999' });
    expect(answer.status).toBe(202);
    await server.settled();
    const { files } = await loadSymbolOverview(server.database, server.app);
    expect(files.filter((file) => file.version === '9.9.9')).toMatchObject([{ state: 'ready', unused: true }]);
    expect(files.filter((file) => file.version === '4.3.0')).toMatchObject([{ state: 'ready', unused: false }]);
  });

  it('is kept once when it is sent twice', async () => {
    const again = await server.uploadSymbols(guideFile('4.1.0/mapping.txt'), { version: '9.9.9', build: '999' });
    expect(again).toMatchObject({ status: 200, body: { isNew: false } });
  });

  it.each([
    ['no token', { authorization: '' }, '/api/v1/apps/guide', 401, 'token-missing'],
    ['an unknown token', { authorization: 'Bearer upload_x' }, '/api/v1/apps/guide', 401, 'token-unknown'],
    ['an intake key', 'intake', '/api/v1/apps/guide', 401, 'token-unknown'],
    ['an app that is not there', 'upload', '/api/v1/apps/nowhere', 403, 'other-app'],
  ])('with %s is refused', async (_, headers, app, status, code) => {
    const authorization = { intake: `Bearer ${server.intakeKey}`, upload: `Bearer ${server.uploadToken}` };
    const answer = await fetch(`${server.address}${app}/symbol-files?version=1&build=1`, {
      method: 'POST',
      body: 'com.A -> a:\n',
      headers:
        typeof headers === 'string'
          ? { authorization: authorization[headers as keyof typeof authorization] }
          : headers.authorization === ''
            ? {}
            : headers,
    });
    expect([answer.status, (await answer.json()).error.code]).toEqual([status, code]);
  });
});
