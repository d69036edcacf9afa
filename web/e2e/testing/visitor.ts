import AxeBuilder from '@axe-core/playwright';
import type { Browser, BrowserContext, Locator, Page } from 'playwright-core';
import { expect } from 'vitest';
import { ownerCookie } from './owner.ts';
import { server } from './server.ts';

export interface Look {
  readonly scheme?: 'light' | 'dark';
  readonly width?: number;
}

export async function newProfile(browser: Browser, { scheme = 'light', width = 1280 }: Look = {}): Promise<BrowserContext> {
  const profile = await browser.newContext({ viewport: { width, height: 800 }, colorScheme: scheme, baseURL: server.address });
  // As patient as all tests are.
  profile.setDefaultTimeout(60_000);
  return profile;
}

/** A person at a browser, with the verbs that journeys are told in. */
export class Visitor {
  /** What the browser complained of; a journey ends with none. */
  readonly complaints: string[] = [];

  private constructor(
    readonly page: Page,
    /** Ends the visit. */
    readonly leave: () => Promise<void>,
  ) {
    page.on('console', (message) => {
      if (message.type() === 'error' || message.type() === 'warning') this.complaints.push(message.text());
    });
    page.on('pageerror', (error) => this.complaints.push(error.message));
  }

  /** Somebody with a browser profile of their own. */
  static async arrive(browser: Browser, look?: Look): Promise<Visitor> {
    const profile = await newProfile(browser, look);
    return new Visitor(await profile.newPage(), () => profile.close());
  }

  /** Somebody new to this profile, who finds nothing in it but the scripts that the browser knows already. */
  static async arriveIn(profile: BrowserContext): Promise<Visitor> {
    await profile.setStorageState({ cookies: [], origins: [] });
    const page = await profile.newPage();
    return new Visitor(page, () => page.close());
  }

  async open(path: string): Promise<void> {
    await this.page.goto(path);
  }

  /** Is the owner, who has signed in before, and opens a page when one is told. */
  async enter(path?: string): Promise<void> {
    const [name, value] = (await ownerCookie()).split('=') as [string, string];
    await this.page.context().addCookies([{ name, value, url: server.address }]);
    if (path === undefined) return;
    await this.open(path);
    await this.hydrated();
  }

  /** Signs in as the owner with the form, which leads to the cases. */
  async signIn(): Promise<void> {
    const { email, password } = server;
    await this.open('/sign-in');
    await this.page.getByLabel('Mail address').fill(email);
    await this.page.getByRole('textbox', { name: 'Password' }).fill(password);
    await this.page.getByRole('button', { name: 'Sign in' }).click();
    await this.page.waitForURL(/\/cases/);
    await this.hydrated();
  }

  /** Asks the API as who is signed in. */
  async post<Answer>(path: string, data: object): Promise<Answer> {
    return (await this.page.request.post(path, { data, headers: { origin: server.address } })).json();
  }

  /** Waits until the page's script has taken over. */
  async hydrated(): Promise<void> {
    await this.page.waitForFunction(() => !document.querySelector('astro-island[ssr]'));
    // The mark goes when hydration begins; what listens to keys is there once the browser has nothing left to do.
    await this.page.evaluate(() => new Promise((resolve) => requestIdleCallback(resolve)));
  }

  /**
   * Waits until the browser has told of an answer of this status, which the journey asked for, and takes that out of the complaints;
   * all of them, for a page may ask again before it is left.
   */
  async expectRefusal(status: number): Promise<void> {
    const isOfThis = (complaint: string) => complaint.includes(`status of ${status}`);
    await expect.poll(() => this.complaints.some(isOfThis)).toBe(true);
    const others = this.complaints.filter((one) => !isOfThis(one));
    this.complaints.splice(0, this.complaints.length, ...others);
  }

  cases() {
    return this.page.locator('[data-case]');
  }

  evidence() {
    return this.page.getByRole('region', { name: 'Evidence' });
  }

  /** Selects a case of the list and waits for its evidence: before that there is nothing that keys could act on. */
  async choose(row: Locator): Promise<void> {
    const ref = (await row.getAttribute('data-case')) as string;
    await row.click();
    await this.evidence().getByRole('article', { name: ref, exact: true }).waitFor();
  }

  /** Checks the page as it stands against WCAG 2.2 A and AA. */
  async expectAccessible(): Promise<void> {
    await expectNothing(new AxeBuilder({ page: this.page }).withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa']));
  }

  /** Checks the page as it stands, and its colours a second time in the other scheme (WCAG 2.2, SC 1.4.3). */
  async expectAccessibleInBothSchemes(): Promise<void> {
    await this.expectAccessible();
    await this.page.emulateMedia({ colorScheme: 'dark' });
    // A page that needs no script does not follow by itself.
    await this.page.evaluate(() => document.documentElement.setAttribute('data-mantine-color-scheme', 'dark'));
    await expectNothing(new AxeBuilder({ page: this.page }).withRules(['color-contrast']));
    await this.page.emulateMedia({ colorScheme: 'light' });
  }

  /** Where they are and what stands there, for whoever reads of a journey that failed. */
  async sight(): Promise<string> {
    const shown = await this.page.locator('body').ariaSnapshot().catch(String);
    return `${this.page.url()}\n${shown.slice(0, 12_000)}`;
  }
}

async function expectNothing(axe: AxeBuilder): Promise<void> {
  // No page has frames; without looking into them it takes half as long.
  const { violations } = await axe.setLegacyMode(true).analyze();
  expect(
    violations.map(({ id, nodes }) => `${id}: ${nodes.map((node) => `${node.target.join(' ')} ${node.html.slice(0, 120)}`).join(', ')}`),
  ).toEqual([]);
}
