import type { Browser, BrowserContext } from 'playwright-core';
import { afterAll, afterEach, beforeAll, beforeEach, expect } from 'vitest';
import { launchBrowser } from '../../../scripts/browser.ts';
import { type Look, newProfile, Visitor } from './visitor.ts';

/** What the journeys of a file share: a browser, and a visitor who is another one in each journey. */
export interface Stage {
  visitor: Visitor;
  /** Somebody else, at a browser profile of their own; whoever asks for them sends them away. */
  arrive(look?: Look): Promise<Visitor>;
}

/**
 * Sets a stage for the journeys of a file: `begin` brings the visitor to where each of them starts. A journey ends with no
 * complaint of the browser.
 */
export function setStage(begin: (visitor: Visitor) => Promise<void> | void): Stage {
  let browser: Browser;
  let profile: BrowserContext;
  const stage = { arrive: (look) => Visitor.arrive(browser, look) } as Stage;
  beforeAll(async () => {
    browser = await launchBrowser();
    profile = await newProfile(browser);
  });
  afterAll(() => browser.close());
  beforeEach(async () => {
    stage.visitor = await Visitor.arriveIn(profile);
    await begin(stage.visitor);
  });
  afterEach(async ({ task }) => {
    const { complaints } = stage.visitor;
    const sight = task.result?.state === 'fail' ? await stage.visitor.sight() : null;
    await stage.visitor.leave();
    // Beside the failure itself, where whoever reads of it looks.
    if (sight !== null) throw new Error(`what stood there: ${sight}`);
    expect(complaints).toEqual([]);
  });
  return stage;
}
