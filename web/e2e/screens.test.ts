import type { Page } from 'playwright-core';
import { describe, expect, it } from 'vitest';
import { places } from '../src/shell/places';
import { setStage } from './testing/stage.ts';

const desk = '/apps/larkfield-guide/cases';
const stage = setStage(() => {});

/** The scripts of a page once no more come: what draws charts comes when it is looked at. What runs beside the page holds up nobody. */
async function settledScripts(page: Page): Promise<{ readonly name: string; readonly bytes: number }[]> {
  const now = () =>
    page.evaluate(() =>
      performance
        .getEntriesByType('resource')
        .map((entry) => entry as PerformanceResourceTiming)
        .filter((entry) => entry.name.endsWith('.js') && !entry.name.includes('.worker-'))
        .map((entry) => ({ name: entry.name, bytes: entry.encodedBodySize })),
    );
  for (let before = -1; ; ) {
    const scripts = await now();
    if (scripts.length === before) return scripts;
    before = scripts.length;
    await page.waitForTimeout(300);
  }
}

describe('every screen', () => {
  const ofApp = places.map(({ path }) => `/apps/larkfield-guide/${path}`);
  const screens = [...ofApp, `${desk}/LG-1?last=all`, '/apps/larkfield-guide/sessions?end=crashed', '/people', '/account', '/nowhere'];

  it.each(['/sign-in', ...screens])('is accessible, and has contrast in light and in dark: %s', async (screen) => {
    if (screen !== '/sign-in') await stage.visitor.enter();
    await stage.visitor.open(screen);
    await stage.visitor.hydrated();
    await stage.visitor.expectAccessibleInBothSchemes();
    if (screen === '/nowhere') await stage.visitor.expectRefusal(404);
  });

  it('brings less than 270 kB of script, and with a chart less than 350', async () => {
    await stage.visitor.enter();
    for (const screen of [...ofApp, `${desk}/LG-1?last=all`]) {
      await stage.visitor.open(screen);
      await stage.visitor.hydrated();
      const scripts = await settledScripts(stage.visitor.page);
      expect(scripts.length).toBeGreaterThan(0);
      const hasChart = scripts.some(({ name }) => name.includes('Chart'));
      expect(
        scripts.reduce((sum, { bytes }) => sum + bytes, 0),
        screen,
      ).toBeLessThan(hasChart ? 350_000 : 270_000);
    }
  });

  it('fits a narrow window without scrolling sideways', async () => {
    await stage.visitor.leave();
    stage.visitor = await stage.arrive({ width: 700 });
    await stage.visitor.enter();
    const widths: string[] = [];
    for (const screen of [...ofApp, `${desk}/LG-1?last=all`]) {
      await stage.visitor.open(screen);
      const width = await stage.visitor.page.evaluate(() => document.documentElement.scrollWidth);
      if (width > 700) widths.push(`${screen} is ${width} wide`);
    }
    expect(widths).toEqual([]);
    // There is no room beside the list, so a case opens as a page.
    await stage.visitor.open(desk);
    await stage.visitor.hydrated();
    await stage.visitor.cases().first().click();
    await stage.visitor.page.waitForURL(/\/cases\/LG-\d+/);
  });
});
