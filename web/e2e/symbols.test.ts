import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { sourceOf } from '@rough-ember/core/bytes/byte-source';
import { indexSymbolFile } from '@rough-ember/core/symbols/index-symbol-file';
import type { Browser } from 'playwright-core';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, inject, it } from 'vitest';
import { launchBrowser } from '../../scripts/browser.ts';
import { Visitor } from './testing/visitor.ts';

const server = inject('server');
const samples = new URL('../../core/samples/', import.meta.url);
const sample = (path: string): Buffer => readFileSync(new URL(path, samples));
const sendCrash = (text: string) =>
  fetch(`${server.address}/intake/v1/file?version=6.0.0&build=600`, {
    method: 'POST',
    headers: { authorization: `Bearer ${server.intakeKey}` },
    body: text,
  });

let browser: Browser;
let visitor: Visitor;
beforeAll(async () => {
  browser = await launchBrowser();
});
afterAll(() => browser.close());
beforeEach(async () => {
  visitor = await Visitor.arrive(browser);
});
afterEach(async () => {
  const { complaints } = visitor;
  await visitor.leave();
  expect(complaints).toEqual([]);
});

/** The desk with the reports of this file only. */
async function openDesk(): Promise<void> {
  await visitor.signIn();
  await visitor.open('/apps/larkfield-guide/cases?version=6.0.0');
  await visitor.hydrated();
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
    await visitor.page.locator('[data-case]', { hasText: 'libsong.so 0x4818' }).click();
    const evidence = visitor.evidence();
    const notice = evidence.getByRole('region', { name: 'Missing symbols of libsong.so of 6.0.0' });
    await notice.getByText(buildId).waitFor();
    expect(await notice.locator('pre, code').allTextContents()).toContain(
      `npx ember upload --server ${server.address} --app larkfield-guide path/to/unstripped/libsong.so`,
    );
    await visitor.expectAccessible();
    await notice
      .getByLabel('File with the symbols of libsong.so of 6.0.0')
      .setInputFiles({ name: 'libsong.so', mimeType: 'application/octet-stream', buffer: library });
    await evidence.getByRole('heading', { level: 1 }).getByText('SIGTRAP in lark::smooth').waitFor({ timeout: 15_000 });
    const frames = evidence.locator('[data-ours="true"]');
    expect(await frames.nth(0).textContent()).toContain('lark::smooth<3, float>');
    expect(await frames.nth(0).textContent()).toContain('inlined');
    expect(await frames.nth(1).textContent()).toMatch(/lark::Detector::find.*song\.cpp:39/);
  });

  it('in a bundled script: by the map of its version, build and name, with the lines of its source', async () => {
    const stack = sample('source-maps/built/webpack.stack').toString();
    expect((await sendCrash(stack.slice(stack.indexOf('TypeError: exposure'), stack.indexOf('== static')))).status).toBe(202);
    await openDesk();
    await visitor.page.locator('[data-case]', { hasText: 'exposure -1 of north' }).click();
    const evidence = visitor.evidence();
    const notice = evidence.getByRole('region', { name: 'Missing source map of webpack.js of 6.0.0' });
    await notice
      .getByLabel('File with the source map of webpack.js of 6.0.0')
      .setInputFiles({ name: 'webpack.js.map', mimeType: 'application/json', buffer: sample('source-maps/built/webpack.js.map') });
    await evidence.getByRole('heading', { level: 1 }).getByText('TypeError in checkedExposure').waitFor({ timeout: 15_000 });
    await evidence.getByRole('button', { name: /camera\.js:36/ }).click();
    await evidence.getByText('throw new TypeError(`exposure').waitFor();
    await visitor.expectAccessible();
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
  it('show by file and version what is there and what is missing, and find a file by its id', async () => {
    await visitor.signIn();
    await visitor.open('/apps/larkfield-guide/symbols');
    await visitor.hydrated();
    await visitor.page.getByRole('button', { name: 'symbols of libsong.so of 6.0.0: have it' }).click();
    const detail = visitor.page.getByRole('region', { name: 'Selected file' });
    await detail.getByText(/The symbols of libsong\.so of 6\.0\.0 \(600\) are here/).waitFor();
    const id = (await detail.locator('code').first().textContent()) as string;
    await visitor.page.getByLabel('Find a file by id or name').fill(id.toUpperCase());
    expect(await visitor.page.getByRole('row').filter({ hasText: 'libsong.so' }).count()).toBeGreaterThanOrEqual(1);
    expect(await visitor.page.getByRole('row').filter({ hasText: 'mapping.txt' }).count()).toBe(0);
    await visitor.page.getByLabel('Find a file by id or name').fill('0000-no-such-id');
    await visitor.page.getByText('No file has “0000-no-such-id” in its name or ids').waitFor();
    await visitor.expectAccessible();
  });
});
