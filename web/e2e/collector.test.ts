import { mkdtempSync, rmSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { buildSync } from 'esbuild';
import { chromium } from 'playwright-core';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { browserArguments } from '../../scripts/browser.ts';
import { askAsOwner, casesOf, eventually } from './testing/owner.ts';
import { server } from './testing/server.ts';

const { address, intakeKey } = server;
const folder = mkdtempSync(join(tmpdir(), 'ember-page-'));
let pages: Server;
let place: string;
let version: string;

/** An app of another origin, with the collector in it. */
beforeAll(async () => {
  version = `9.0.${Date.now()}`;
  const entry = `
    import { startCollector } from ${JSON.stringify(fileURLToPath(new URL('../../collector/src/index.ts', import.meta.url)))};
    const collector = startCollector({ server: ${JSON.stringify(address)}, key: ${JSON.stringify(intakeKey)}, version: ${JSON.stringify(version)}, build: '1', hangMs: 2_000 });
    collector.flag('feeder', 'hazel');
    document.querySelector('#zoom').addEventListener('click', function drawTiles() { for (const end = Date.now() + 4_000; Date.now() < end; ); });
    document.querySelector('button').addEventListener('click', function openFeeder() { throw new TypeError('the feeder is empty'); });`;
  const { outputFiles } = buildSync({
    stdin: { contents: entry, resolveDir: folder, loader: 'ts' },
    bundle: true,
    format: 'iife',
    write: false,
  });
  const script = outputFiles[0]?.text as string;
  pages = createServer((request, response) => {
    const isScript = request.url === '/app.js';
    response.writeHead(200, { 'content-type': isScript ? 'text/javascript' : 'text/html' });
    response.end(
      isScript
        ? script
        : '<!doctype html><title>Feeder Cam</title><button id="open">Open</button><button id="zoom">Zoom</button><script src="/app.js"></script>',
    );
  });
  await new Promise<void>((resolve) => pages.listen(0, '127.0.0.1', resolve));
  place = `http://127.0.0.1:${(pages.address() as AddressInfo).port}/feeders/12`;
});
afterAll(() => {
  pages.close();
  rmSync(folder, { recursive: true, force: true });
});

const reportsArrived = async () => (await casesOf(version)).map(({ what, reports }) => ({ what, reports }));

it('a page that throws and is killed before it can send delivers its report once when it is opened again', async () => {
  const open = () =>
    chromium.launchPersistentContext(join(folder, 'profile'), { executablePath: '/usr/bin/chromium', args: browserArguments });
  const before = await open();
  const page = before.pages()[0] ?? (await before.newPage());
  await page.route(`${address}/**`, (route) => route.abort());
  await page.goto(place);
  await page.click('#open');
  const kept = await page.evaluate(() => localStorage.getItem('ember.outbox'));
  expect(kept).toContain('the feeder is empty');
  // No farewell: the browser is gone as it is when a phone takes its memory back.
  await page.evaluate(() => {
    window.stop();
  });
  await before.close();
  expect(await reportsArrived()).toEqual([]);

  for (let launch = 0; launch < 2; launch++) {
    const again = await open();
    const reopened = again.pages()[0] ?? (await again.newPage());
    await reopened.goto(place);
    await reopened.waitForFunction(() => (localStorage.getItem('ember.outbox') ?? '[]') === '[]');
    await again.close();
  }
  const arrived = await eventually(reportsArrived, (cases) => cases.length > 0);
  expect(arrived).toEqual([{ what: 'TypeError', reports: 1 }]);

  const [{ ref } = { ref: '' }] = await casesOf(version);
  const { report } = await askAsOwner<{
    report: {
      trail: { kind: string; name?: string; target?: string; text: string | null }[];
      flags: object;
      readable: { exceptions: { frames: { function: string }[] }[] };
    };
  }>(`/api/v1/apps/larkfield-guide/cases/${ref}?last=all&version=${version}`);
  // What was tapped, but never what it said.
  expect(report.trail.filter((event) => event.kind === 'tap')).toEqual([expect.objectContaining({ target: 'button#open', text: null })]);
  expect(report.trail.some((event) => event.kind === 'screen' && event.name === '/feeders/{number}')).toBe(true);
  expect(report.flags).toEqual({ feeder: 'hazel' });
  expect(report.readable.exceptions[0]?.frames[0]?.function).toContain('openFeeder');
});

it('a page that does not answer for a while tells of it, and what ran meanwhile, once it answers again', async () => {
  const context = await chromium.launchPersistentContext(join(folder, 'another-profile'), {
    executablePath: '/usr/bin/chromium',
    args: browserArguments,
  });
  const page = context.pages()[0] ?? (await context.newPage());
  await page.goto(place);
  await page.click('#zoom');
  const hangs = async () => (await casesOf(version)).filter(({ what }) => what.includes('hang'));
  const [hang] = await eventually(hangs, (found) => found.length > 0);
  await context.close();
  expect(hang).toMatchObject({ reports: 1 });
  const { report } = await askAsOwner<{
    report: { readable: { exceptions: { message: string; frames: { function: string }[] }[] } };
  }>(`/api/v1/apps/larkfield-guide/cases/${hang?.ref}?last=all&version=${version}&kind=hang`);
  expect(report.readable.exceptions[0]?.message).toMatch(/^the page did not answer for \d+ ms$/);
  expect(report.readable.exceptions[0]?.frames[0]?.function).toContain('drawTiles');
});
