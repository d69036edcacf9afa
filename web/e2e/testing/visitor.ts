import AxeBuilder from '@axe-core/playwright';
import type { Browser, Page } from 'playwright-core';
import { expect, inject } from 'vitest';

/** A person at a browser, with the verbs that journeys are told in. */
export class Visitor {
  /** What the browser complained of; a journey ends with none. */
  readonly complaints: string[] = [];

  private constructor(readonly page: Page) {
    page.on('console', (message) => {
      if (message.type() === 'error' || message.type() === 'warning') this.complaints.push(message.text());
    });
    page.on('pageerror', (error) => this.complaints.push(error.message));
  }

  static async arrive(browser: Browser, { scheme = 'light' as 'light' | 'dark', width = 1280 } = {}): Promise<Visitor> {
    const context = await browser.newContext({ viewport: { width, height: 800 }, colorScheme: scheme, baseURL: inject('server').address });
    // As patient as all tests are.
    context.setDefaultTimeout(60_000);
    return new Visitor(await context.newPage());
  }

  async open(path: string): Promise<void> {
    await this.page.goto(path);
  }

  async signIn(): Promise<void> {
    const { email, password } = inject('server');
    await this.open('/sign-in');
    await this.page.getByLabel('Mail address').fill(email);
    await this.page.getByRole('textbox', { name: 'Password' }).fill(password);
    await this.page.getByRole('button', { name: 'Sign in' }).click();
    await this.page.waitForURL(/\/cases/);
    await this.hydrated();
  }

  /** Asks the API as who is signed in. */
  async post<Answer>(path: string, data: object): Promise<Answer> {
    return (await this.page.request.post(path, { data, headers: { origin: inject('server').address } })).json();
  }

  /** Waits until the page's script has taken over. */
  async hydrated(): Promise<void> {
    await this.page.waitForFunction(() => !document.querySelector('astro-island[ssr]'));
    // The mark goes when hydration begins; what listens to keys is there once the browser has nothing left to do.
    await this.page.evaluate(() => new Promise((resolve) => requestIdleCallback(resolve)));
  }

  /** Waits until the browser has told of an answer of this status, which the journey asked for, and takes that out of the complaints. */
  async expectRefusal(status: number): Promise<void> {
    const told = () => this.complaints.findIndex((one) => one.includes(`status of ${status}`));
    await expect.poll(told).not.toBe(-1);
    this.complaints.splice(told(), 1);
  }

  cases() {
    return this.page.locator('[data-case]');
  }

  evidence() {
    return this.page.getByRole('region', { name: 'Evidence' });
  }

  /** Checks the page as it stands against WCAG 2.2 A and AA. */
  async expectAccessible(): Promise<void> {
    const { violations } = await new AxeBuilder({ page: this.page })
      .withTags(['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa', 'wcag22aa'])
      .analyze();
    expect(
      violations.map(({ id, nodes }) => `${id}: ${nodes.map((node) => `${node.target.join(' ')} ${node.html.slice(0, 120)}`).join(', ')}`),
    ).toEqual([]);
  }

  async leave(): Promise<void> {
    await this.page.context().close();
  }
}
