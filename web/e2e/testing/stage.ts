import type { Browser } from 'playwright-core';
import { afterAll, afterEach, beforeAll, beforeEach, expect } from 'vitest';
import { launchBrowser } from '../../../scripts/browser.ts';
import { Visitor } from './visitor.ts';

/** What the journeys of a file share: a browser, and a visitor who is another one in each journey. */
export interface Stage {
  visitor: Visitor;
  /** Somebody else, at a browser profile of their own; whoever asks for them sends them away. */
  arrive(options?: Parameters<typeof Visitor.arrive>[1]): Promise<Visitor>;
}

/**
 * Sets a stage for the journeys of a file: `begin` brings the visitor to where each of them starts. A journey ends with no
 * complaint of the browser.
 */
export function setStage(begin: (visitor: Visitor) => Promise<void> | void): Stage {
  let browser: Browser;
  const stage = { arrive: (options) => Visitor.arrive(browser, options) } as Stage;
  beforeAll(async () => {
    browser = await launchBrowser();
  });
  afterAll(() => browser.close());
  beforeEach(async () => {
    stage.visitor = await stage.arrive();
    await begin(stage.visitor);
  });
  afterEach(async () => {
    const { complaints } = stage.visitor;
    await stage.visitor.leave();
    expect(complaints).toEqual([]);
  });
  return stage;
}
