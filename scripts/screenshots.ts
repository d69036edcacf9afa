import { mkdirSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { launchBrowser } from './browser.ts';
import { startProduct } from './testing/started-product.ts';

interface View {
  readonly name: string;
  readonly path: string;
  readonly scheme: 'light' | 'dark';
  /** What a person does before the picture. */
  readonly before?: (page: Page) => Promise<void>;
}

const folder = 'docs/screenshots';
const views: readonly View[] = [
  { name: 'cases-light', path: '/apps/larkfield-guide/cases', scheme: 'light' },
  { name: 'cases-dark', path: '/apps/larkfield-guide/cases', scheme: 'dark' },
  { name: 'case-file', path: '/apps/larkfield-guide/cases/LG-2?kind=error&last=90d', scheme: 'light' },
  { name: 'symbols', path: '/apps/larkfield-guide/symbols', scheme: 'light' },
  { name: 'intake', path: '/apps/larkfield-guide/intake', scheme: 'dark' },
  { name: 'intake-waiting', path: '/apps/pond-watch/intake', scheme: 'light' },
  {
    name: 'scrubbing',
    path: '/apps/larkfield-guide/intake',
    scheme: 'light',
    before: async (page) => {
      await page.getByRole('button', { name: 'Change and try on a sample' }).click();
      await page.getByRole('button', { name: 'Add a pattern' }).click();
      await page.getByLabel('Name of pattern 1').fill('ring number');
      await page.getByLabel('Pattern 1', { exact: true }).fill('RN-\\d{6}');
      await page.getByText('[removed: ring number]').waitFor();
    },
  },
  { name: 'people', path: '/people', scheme: 'light' },
  {
    name: 'bench',
    path: '/apps/larkfield-guide/bench',
    scheme: 'light',
    before: async (page) => {
      const build = 'demo/larkfield-guide/builds/4.3.0';
      await page.getByLabel('Crash text').fill(readFileSync(`${build}/crashes/song.txt`, 'utf8'));
      await page.locator('input[type=file]').last().setInputFiles(`${build}/libsong.so`);
      await page.getByText('lark::smooth').waitFor();
    },
  },
];

/** `npm run screenshots`: a current picture of each main view, from a fresh server with nothing but the demo. */
export async function main(): Promise<number> {
  mkdirSync(folder, { recursive: true });
  const data = mkdtempSync(join(tmpdir(), 'ember-pictures-'));
  const product = await startProduct(data, { EMBER_LOG_LEVEL: 'silent', EMBER_PUBLIC_URL: 'https://ember.larkfield.example' });
  try {
    const browser = await launchBrowser();
    for (const { name, path, scheme, before } of views) {
      const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, colorScheme: scheme, baseURL: product.address });
      await signIn(page, product.first);
      await page.request.post('/api/v1/apps', {
        headers: { origin: product.address },
        data: { name: 'Pond Watch', prefix: 'PW', platforms: ['Android', 'iOS'], ourPackages: [] },
      });
      await page.goto(path);
      await page.waitForFunction(() => !document.querySelector('astro-island[ssr]'));
      await before?.(page);
      await page.screenshot({ path: join(folder, `${name}.png`) });
      console.log(`${folder}/${name}.png`);
      await page.close();
    }
    await browser.close();
  } finally {
    await product.stop();
    rmSync(data, { recursive: true, force: true });
  }
  return 0;
}

async function signIn(page: Page, { email, password }: { email: string; password: string }): Promise<void> {
  await page.goto('/sign-in');
  await page.getByLabel('Mail address').fill(email);
  await page.getByRole('textbox', { name: 'Password' }).fill(password);
  await page.getByRole('button', { name: 'Sign in' }).click();
  await page.waitForURL(/\/cases/);
}
