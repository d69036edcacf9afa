import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { sourceOf } from '@rough-ember/core/bytes/byte-source';
import { indexSymbolFile } from '@rough-ember/core/symbols/index-symbol-file';
import { serverVersion } from '@rough-ember/server/server-version';
import { TextReader, Uint8ArrayReader, Uint8ArrayWriter, ZipWriter } from '@zip.js/zip.js';
import { describe, expect, it } from 'vitest';
import { server } from './testing/server.ts';
import { setStage } from './testing/stage.ts';

const samples = new URL('../../core/samples/', import.meta.url);
const sample = (path: string): Buffer => readFileSync(new URL(path, samples));
const sendCrash = (text: string) =>
  fetch(`${server.address}/intake/v1/file?version=6.0.0&build=600`, {
    method: 'POST',
    headers: { authorization: `Bearer ${server.intakeKey}` },
    body: text,
  });

const stage = setStage(() => {});

/** The desk with the reports of this file only. */
async function openDesk(): Promise<void> {
  await stage.visitor.enter('/apps/larkfield-guide/cases?version=6.0.0');
}

describe('a report arrives raw, its symbol file comes, and the case is readable', () => {
  it('in native code of Android: by the build id of the library', async () => {
    const library = sample('binaries/built/clang-arm64-O2.so');
    const indexed = await indexSymbolFile(sourceOf(new Uint8Array(library)), { fileName: 'libsong.so' });
    const buildId = indexed.ok ? (indexed.value[0]?.symbolId as string) : '';
    const path = '/data/app/~~Q/com.larkfield.guide-1/lib/arm64/libsong.so';
    const sent = await sendCrash(`*** *** *** *** *** *** *** *** *** *** *** *** *** *** *** ***
ABI: 'arm64'
pid: 4242, tid: 4260, name: song-worker  >>> com.larkfield.guide <<<
signal 5 (SIGTRAP), code 1 (TRAP_BRKPT), fault addr 0x0000007b2c1f4790
backtrace:
      #00 pc 0000000000004818  ${path} (BuildId: ${buildId})
      #01 pc 000000000008f0c4  /apex/com.android.runtime/lib64/bionic/libc.so (__pthread_start(void*)+208) (BuildId: aabbccdd)
`);
    expect(sent.status).toBe(202);
    await openDesk();
    await stage.visitor.choose(stage.visitor.page.locator('[data-case]', { hasText: 'libsong.so 0x4818' }));
    const evidence = stage.visitor.evidence();
    const notice = evidence.getByRole('region', { name: 'Missing symbols of libsong.so of 6.0.0' });
    await notice.getByText(buildId).waitFor();
    expect(await notice.locator('pre, code').allTextContents()).toContain(
      `npx --yes --package ${server.address}/downloads/${serverVersion}/rough-ember-cli.tgz ember upload --server ${server.address} --app larkfield-guide path/to/unstripped/libsong.so`,
    );
    await stage.visitor.expectAccessible();
    await notice
      .getByLabel('File with the symbols of libsong.so of 6.0.0')
      .setInputFiles({ name: 'libsong.so', mimeType: 'application/octet-stream', buffer: library });
    await evidence.getByRole('heading', { level: 1 }).getByText('SIGTRAP in lark::smooth').waitFor();
    const frames = evidence.locator('[data-ours="true"]');
    expect(await frames.nth(0).textContent()).toContain('lark::smooth<3, float>');
    expect(await frames.nth(0).textContent()).toContain('inlined');
    expect(await frames.nth(1).textContent()).toMatch(/lark::Detector::find.*song\.cpp:39/);
  });

  it('in a bundled script: by the map of its version, build and name, with the lines of its source', async () => {
    const stack = sample('source-maps/built/webpack.stack').toString();
    expect((await sendCrash(stack.slice(stack.indexOf('TypeError: exposure'), stack.indexOf('== static')))).status).toBe(202);
    await openDesk();
    await stage.visitor.choose(stage.visitor.page.locator('[data-case]', { hasText: 'exposure -1 of north' }));
    const evidence = stage.visitor.evidence();
    const notice = evidence.getByRole('region', { name: 'Missing source map of webpack.js of 6.0.0' });
    await notice
      .getByLabel('File with the source map of webpack.js of 6.0.0')
      .setInputFiles({ name: 'webpack.js.map', mimeType: 'application/json', buffer: sample('source-maps/built/webpack.js.map') });
    await evidence.getByRole('heading', { level: 1 }).getByText('TypeError in checkedExposure').waitFor();
    // The frame that decides has its source open from the start.
    await evidence.getByRole('button', { name: /camera\.js:36/, expanded: true }).waitFor();
    await evidence.getByText('throw new TypeError(`exposure').waitFor();
    await stage.visitor.expectAccessible();
  });
});

describe('the rest of the family: a report arrives raw, its file comes, and the case is readable', () => {
  const family = (path: string): Buffer => readFileSync(new URL(`../../demo/${path}`, import.meta.url));
  const mend = async (missing: string, file: { name: string; buffer: Buffer }) =>
    stage.visitor
      .evidence()
      .getByRole('region', { name: `Missing ${missing}` })
      .getByLabel(`File with the ${missing}`)
      .setInputFiles({ ...file, mimeType: 'application/octet-stream' });
  const titled = (title: RegExp) => stage.visitor.evidence().getByRole('heading', { level: 1 }).getByText(title).waitFor();

  it('on iOS: the UUID of the app, from a zip of dSYM bundles as the store delivers it', async () => {
    expect((await sendCrash(family('larkfield-guide-ios/builds/3.2.0/crashes/nest-map.ips').toString())).status).toBe(202);
    const zip = new ZipWriter(new Uint8ArrayWriter(), { useWebWorkers: false });
    for (const version of ['3.1.0', '3.2.0'])
      await zip.add(
        `${version}/Guide.app.dSYM/Contents/Resources/DWARF/Guide`,
        new Uint8ArrayReader(new Uint8Array(family(`larkfield-guide-ios/builds/${version}/Guide.app.dSYM/Contents/Resources/DWARF/Guide`))),
      );
    await zip.add('3.2.0/Guide.app.dSYM/Contents/Info.plist', new TextReader('<plist/>'));
    await stage.visitor.enter('/apps/larkfield-guide/symbols');
    await stage.visitor.page.getByRole('button', { name: /symbols of Guide of 6\.0\.0: missing/ }).waitFor();
    const form = stage.visitor.page.getByRole('form', { name: 'Upload symbol files' });
    await form
      .getByLabel('Symbol files', { exact: true })
      .setInputFiles({ name: 'dSYMs.zip', mimeType: 'application/zip', buffer: Buffer.from(await zip.close()) });
    await form.getByRole('listitem').filter({ hasText: 'Mach-O' }).nth(1).waitFor();
    expect(await form.getByRole('listitem').count()).toBe(2);
    await form.getByRole('button', { name: 'Upload 2 files' }).click();
    await stage.visitor.page.getByRole('button', { name: 'symbols of Guide of 6.0.0: have it' }).waitFor();
    // The bundle of the other build is here too, and nothing took it for this one.
    await expect
      .poll(() => stage.visitor.page.getByRole('row').filter({ hasText: 'unused so far' }).filter({ hasText: 'Guide' }).count())
      .toBe(1);
    await stage.visitor.expectAccessible();

    await stage.visitor.open('/apps/larkfield-guide/cases?version=6.0.0&last=all');
    await stage.visitor.hydrated();
    await stage.visitor.choose(stage.visitor.page.locator('[data-case]', { hasText: 'drawTile:' }));
    await titled(/EXC_BAD_ACCESS.* in -\[NestBoxMap drawTile:\]/);
    expect(await stage.visitor.evidence().locator('[data-ours="true"]').nth(1).textContent()).toMatch(/drawRect:through:.*guide\.m:44/);
  });

  it('in Dart: the build id of the debug file, and the renamed types of the message', async () => {
    expect((await sendCrash(family('trails/builds/1.7.0/crashes/share.txt').toString())).status).toBe(202);
    await openDesk();
    await stage.visitor.choose(stage.visitor.page.locator('[data-case]', { hasText: "type 'kQ'" }));
    await mend('symbols of 6.0.0', { name: 'app.android-arm64.symbols', buffer: family('trails/builds/1.7.0/app.android-arm64.symbols') });
    await titled(/TypeError in ShareSheet\.export/);
    await mend('obfuscation map of 6.0.0', { name: 'obfuscation-map.json', buffer: family('trails/builds/1.7.0/obfuscation-map.json') });
    await stage.visitor.evidence().getByText("type 'TrackArchive' is not a subtype of type 'List<MapTile>'").first().waitFor();
    expect(await stage.visitor.evidence().locator('[data-ours="true"]').nth(1).textContent()).toContain(
      'SharePage.onTap.<anonymous closure>',
    );
  });

  it('in .NET: the module version id leads to the assembly, and the assembly to its PDB', async () => {
    expect((await sendCrash(family('wardens-survey/builds/2.6.0/crashes/plot.txt').toString())).status).toBe(202);
    await openDesk();
    await stage.visitor.choose(stage.visitor.page.locator('[data-case]', { hasText: 'KeyNotFoundException' }));
    await mend('assembly of 6.0.0', { name: 'Larkfield.Survey.dll', buffer: family('wardens-survey/builds/2.6.0/Larkfield.Survey.dll') });
    await stage.visitor.evidence().getByRole('region', { name: 'Missing PDB of Larkfield.Survey of 6.0.0' }).waitFor();
    await mend('PDB of Larkfield.Survey of 6.0.0', {
      name: 'Larkfield.Survey.pdb',
      buffer: family('wardens-survey/builds/2.6.0/Larkfield.Survey.pdb'),
    });
    await stage.visitor
      .evidence()
      .getByText(/Survey\.cs:33/)
      .waitFor();
    expect(await stage.visitor.evidence().locator('[data-ours="true"]').nth(1).textContent()).toMatch(/PlotStore\.LoadAsync/);
  });
});

describe('a file that is there already', () => {
  it('is known by its content, to whoever may upload and to nobody else', async () => {
    const content = readFileSync(new URL('../../demo/larkfield-guide/builds/4.3.0/libsong.so', import.meta.url));
    const address = (bytes: Buffer) =>
      `${server.address}/api/v1/apps/larkfield-guide/symbol-files/known?sha256=${createHash('sha256').update(bytes).digest('hex')}`;
    const ask = (bytes: Buffer, token: string) => fetch(address(bytes), { headers: { authorization: `Bearer ${token}` } });
    const answer = await ask(content, server.uploadToken);
    expect([answer.status, await answer.json()]).toMatchObject([200, { file: { fileName: 'libsong.so', state: 'ready', kind: 'code' } }]);
    expect(await (await ask(Buffer.from('another'), server.uploadToken)).json()).toEqual({ file: null });
    expect((await ask(content, 'upload_made_up')).status).toBe(401);
    expect((await fetch(address(content))).status).toBe(401);
  });
});

describe('symbols', () => {
  it('are looked at before they are sent, and deleted when they are not wanted', async () => {
    await stage.visitor.enter('/apps/larkfield-guide/symbols');
    const form = stage.visitor.page.getByRole('form', { name: 'Upload symbol files' });
    const file = (name: string, buffer: Buffer) => ({ name, mimeType: 'text/plain', buffer });
    await form
      .getByLabel('Symbol files', { exact: true })
      .setInputFiles([file('notes.txt', Buffer.from('what a day\n')), file('mapping.txt', Buffer.from('com.larkfield.Night -> a:\n'))]);
    await form.getByText('notes.txt').waitFor();
    await form.getByRole('button', { name: 'Upload 1 file' }).click();
    await form.getByText('mapping.txt carries no id of its own.').waitFor();
    await form.getByLabel('Version').fill('8.1.0');
    await form.getByLabel('Build').fill('810');
    await form.getByRole('button', { name: 'Upload 1 file' }).click();
    const row = stage.visitor.page.getByRole('row', { name: /8\.1\.0 \(810\)/ });
    await row.getByText('ready, unused so far').waitFor();
    await stage.visitor.expectAccessible();
    await row.getByRole('button', { name: /^Delete/ }).click();
    await row.getByRole('button', { name: 'Delete it' }).click();
    await row.waitFor({ state: 'detached' });
  });

  it('show by file and version what is there and what is missing, and find a file by its id', async () => {
    await stage.visitor.enter('/apps/larkfield-guide/symbols');
    await stage.visitor.page.getByRole('button', { name: 'symbols of libsong.so of 6.0.0: have it' }).click();
    const detail = stage.visitor.page.getByRole('region', { name: 'Selected file' });
    await detail.getByText(/The symbols of libsong\.so of 6\.0\.0 \(600\) are here/).waitFor();
    const id = (await detail.locator('code').first().textContent()) as string;
    await stage.visitor.page.getByLabel('Find a file by id or name').fill(id.toUpperCase());
    await expect.poll(() => stage.visitor.page.getByRole('row').filter({ hasText: 'mapping.txt' }).count()).toBe(0);
    await stage.visitor.page.getByRole('row').filter({ hasText: 'libsong.so' }).first().waitFor();
    await stage.visitor.page.getByLabel('Find a file by id or name').fill('0000-no-such-id');
    await stage.visitor.page.getByText('No file has “0000-no-such-id” in its name or ids').waitFor();
    await stage.visitor.expectAccessible();
  });
});

describe('a mapping of another build', () => {
  const builds = new URL('../../demo/larkfield-guide/builds/', import.meta.url);
  const mapping = (version: string) => ({
    name: 'mapping.txt',
    mimeType: 'text/plain',
    buffer: readFileSync(new URL(`${version}/mapping.txt`, builds)),
  });

  it('is told where its names would stand, gives its place to the right one, and can be put back', async () => {
    const crash = readFileSync(new URL('4.3.1/crashes/night-map.txt', builds), 'utf8');
    await fetch(`${server.address}/intake/v1/file?version=6.2.0&build=620`, {
      method: 'POST',
      headers: { authorization: `Bearer ${server.intakeKey}` },
      body: crash,
    });
    await stage.visitor.enter('/apps/larkfield-guide/cases?version=6.2.0');
    await stage.visitor.choose(stage.visitor.page.locator('[data-case]').first());
    const evidence = stage.visitor.evidence();
    await evidence.getByLabel('File with the mapping of 6.2.0').setInputFiles(mapping('4.1.0'));
    const notice = evidence.getByRole('region', { name: 'Unfitting mapping of 6.2.0' });
    await notice.getByText('almost surely of another build').waitFor();
    await stage.visitor.expectAccessible();
    await evidence.getByLabel('File with the mapping of 6.2.0').setInputFiles(mapping('4.3.1'));
    await evidence.getByRole('heading', { level: 1 }).getByText('NightMap.tileFor').waitFor();

    await stage.visitor.open('/apps/larkfield-guide/symbols');
    await stage.visitor.hydrated();
    const row = stage.visitor.page.getByRole('row', { name: /6\.2\.0 \(620\) replaced/ });
    await row.getByText('kept, and used no more').waitFor();
    await stage.visitor.expectAccessible();
    await row.getByRole('button', { name: /^Put mapping\.txt of 6\.2\.0 back/ }).click();
    await stage.visitor.page.getByRole('button', { name: 'mapping of 6.2.0: have one that does not fit' }).click();
    await stage.visitor.page.getByRole('region', { name: 'Unfitting mapping of 6.2.0' }).waitFor();
  });
});
