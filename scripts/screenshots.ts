import { mkdirSync, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { CaseList } from '@rough-ember/server/desk/case-list';
import type { Page } from 'playwright-core';
import { launchBrowser } from './browser.ts';
import { startProduct } from './testing/started-product.ts';

interface View {
  readonly name: string;
  /** `{SightingStore.write}` stands for the case there, whatever its number. */
  readonly path: string;
  readonly scheme: 'light' | 'dark';
  /** What a person does before the picture. */
  readonly before?: (page: Page) => Promise<void>;
}

/** Waits for what is drawn once it is looked at. */
const drawn = async (page: Page): Promise<void> => {
  await page.locator('[data-drawing] svg path').last().waitFor({ state: 'attached' });
  await page.waitForTimeout(500);
};

const folder = 'docs/screenshots';
const views: readonly View[] = [
  { name: 'now', path: '/apps/larkfield-guide/now', scheme: 'light' },
  {
    name: 'crash-free',
    path: '/apps/larkfield-guide/crash-free',
    scheme: 'light',
    before: async (page) => {
      await page.getByRole('button', { name: /^Tarn Go 3, 4\.2\.0:/ }).click();
      await page.getByRole('heading', { name: '4.2.0 on Tarn Go 3' }).waitFor();
      await page.mouse.move(640, 20);
    },
  },
  {
    name: 'wall',
    path: '/apps/larkfield-guide/now',
    scheme: 'dark',
    before: async (page) => {
      await page.getByRole('button', { name: 'On a big screen …' }).click();
      await page.getByLabel('Name of the link').fill('Kitchen');
      await page.getByRole('button', { name: 'Make the link' }).click();
      const link = (await page.getByText(/\/wall\/wall_/).textContent()) as string;
      await page.goto(`${new URL(link).pathname}?app=larkfield-guide`);
      await page.getByText('Today so far').waitFor();
    },
  },
  { name: 'screens', path: '/apps/larkfield-guide/screens', scheme: 'light' },
  {
    name: 'ways',
    path: '/apps/larkfield-guide/ways?last=30d&look=2000&sequence=screen%20map%20then%20screen%20night-map%20then%20crash',
    scheme: 'dark',
  },
  { name: 'people', path: '/apps/larkfield-guide/people', scheme: 'light' },
  {
    name: 'ask',
    path: '/apps/larkfield-guide/ask?last=90d&question=crashed%20sessions%20per%201000%20sessions%20by%20version%20per%20day%20since%20release',
    scheme: 'light',
    before: drawn,
  },
  { name: 'sheet', path: '/apps/larkfield-guide/sheets/devices', scheme: 'dark', before: drawn },
  { name: 'settings', path: '/apps/larkfield-guide/settings', scheme: 'light' },
  { name: 'versions', path: '/apps/larkfield-guide/versions', scheme: 'dark' },
  {
    name: 'session',
    path: '/apps/larkfield-guide/sessions?end=crashed',
    scheme: 'light',
    before: async (page) => {
      await page.getByRole('rowheader').getByRole('link').first().click();
      await page.waitForURL(/sessions\//);
    },
  },
  { name: 'cases-light', path: '/apps/larkfield-guide/cases', scheme: 'light' },
  { name: 'case-file', path: '/apps/larkfield-guide/cases/{NightMap.tileFor}?last=90d', scheme: 'light' },
  {
    name: 'alerts',
    path: '/apps/larkfield-guide/alerts',
    scheme: 'light',
    before: async (page) => {
      await page.getByRole('button', { name: 'New rule' }).click();
      await page.getByRole('button', { name: 'Try it on the last 30 days' }).click();
      await page.getByText(/it would have told/).waitFor();
      await page.getByRole('button', { name: 'New channel' }).click();
    },
  },
  {
    name: 'private',
    path: '/apps/larkfield-guide/private',
    scheme: 'light',
    before: async (page) => {
      await page.getByLabel('What reports hold: at most megabytes').fill('5');
      await page
        .getByRole('status', { name: 'What goes: What reports hold' })
        .getByText(/reports/)
        .waitFor();
      await page.getByText(/as they are stored, these rules find nothing more/).waitFor();
    },
  },
  {
    name: 'person',
    path: '/apps/larkfield-guide/cases?case={SightingStore.write}',
    scheme: 'dark',
    before: async (page) => {
      await page.locator('#state a[href*="person"]').first().click();
      await page.waitForURL(/person/);
    },
  },
  { name: 'symbols', path: '/apps/larkfield-guide/symbols', scheme: 'light' },
  { name: 'intake', path: '/apps/larkfield-guide/intake', scheme: 'dark' },
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

/** The path with the reference of the case that it names. */
async function withCase(page: Page, path: string): Promise<string> {
  const [named, where] = /\{([^}]+)\}/.exec(path) ?? [];
  if (named === undefined) return path;
  for (const kind of ['crash', 'error']) {
    const answer = await page.request.get(`/api/v1/apps/larkfield-guide/cases?last=90d&kind=${kind}`);
    const { cases } = (await answer.json()) as CaseList;
    const found = cases.find((one) => one.where === where);
    if (found) return path.replace(named, found.ref);
  }
  throw new Error(`the demo has no case at ${where}`);
}

/** `npm run screenshots [-- name…]`: a current picture of each main view, or of those named, from a fresh server with nothing but the demo. */
export async function main(names: readonly string[] = []): Promise<number> {
  mkdirSync(folder, { recursive: true });
  const data = mkdtempSync(join(tmpdir(), 'ember-pictures-'));
  const began = performance.now();
  const product = await startProduct(data, {
    EMBER_LOG_LEVEL: 'silent',
    EMBER_DEMO_SESSIONS: '200000',
    EMBER_PUBLIC_URL: 'https://ember.larkfield.example',
  });
  console.log(`the demo was there after ${((performance.now() - began) / 1000).toFixed(0)} s`);
  try {
    const browser = await launchBrowser();
    for (const { name, path, scheme, before } of views) {
      if (names.length > 0 && !names.includes(name)) continue;
      const page = await browser.newPage({ viewport: { width: 1280, height: 800 }, colorScheme: scheme, baseURL: product.address });
      await signIn(page, product.first);
      await page.goto(await withCase(page, path));
      await page.waitForFunction(() => !document.querySelector('astro-island[ssr]'));
      await before?.(page);
      // What is asked for once the page is there.
      await page.waitForFunction(() => !document.body.textContent?.includes('looking …'));
      await page.waitForTimeout(400);
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
