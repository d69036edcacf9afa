import { spawn } from 'node:child_process';
import { mkdirSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { launchBrowser } from './browser.ts';

const folder = 'docs/screenshots';
const views = [
  { name: 'cases-light', path: '/apps/larkfield-guide/cases', scheme: 'light' },
  { name: 'cases-dark', path: '/apps/larkfield-guide/cases', scheme: 'dark' },
  { name: 'case-file', path: '/apps/larkfield-guide/cases/LG-2?kind=error&last=90d', scheme: 'light' },
  { name: 'symbols', path: '/apps/larkfield-guide/symbols', scheme: 'light' },
  { name: 'intake', path: '/apps/larkfield-guide/intake', scheme: 'dark' },
] as const;

/** `npm run screenshots`: a current picture of each main view, from a fresh server with nothing but the demo. */
export async function main(): Promise<number> {
  mkdirSync(folder, { recursive: true });
  const data = mkdtempSync(join(tmpdir(), 'ember-pictures-'));
  const server = spawn(process.execPath, ['scripts/run.mjs', 'start'], {
    env: {
      ...process.env,
      PORT: '0',
      EMBER_DATA_DIR: data,
      EMBER_LOG_LEVEL: 'silent',
      EMBER_PUBLIC_URL: 'https://ember.larkfield.example',
    },
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  try {
    const address = await new Promise<string>((resolve, reject) => {
      let printed = '';
      server.once('exit', () => reject(new Error(`the server ended:\n${printed}`)));
      server.stdout.on('data', (chunk: Buffer) => {
        printed += chunk;
        const ready = /Rough Ember is at (\S+)[\s\S]*Stop with/.exec(printed);
        if (ready) resolve(ready[1] as string);
      });
    });
    const { email, password } = JSON.parse(readFileSync(join(data, 'first-start.json'), 'utf8'));
    const browser = await launchBrowser();
    for (const { name, path, scheme } of views) {
      const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, colorScheme: scheme, baseURL: address });
      await page.goto('/sign-in');
      await page.getByLabel('Mail address').fill(email);
      await page.getByRole('textbox', { name: 'Password' }).fill(password);
      await page.getByRole('button', { name: 'Sign in' }).click();
      await page.waitForURL(/\/cases/);
      await page.goto(path);
      await page.waitForFunction(() => !document.querySelector('astro-island[ssr]'));
      await page.screenshot({ path: join(folder, `${name}.png`) });
      console.log(`${folder}/${name}.png`);
      await page.close();
    }
    await browser.close();
  } finally {
    const ended = new Promise((resolve) => server.once('exit', resolve));
    server.kill('SIGTERM');
    await ended;
    rmSync(data, { recursive: true, force: true });
  }
  return 0;
}
