import { randomUUID } from 'node:crypto';
import { describe, expect, it } from 'vitest';
import { freshApp, sendItems } from './testing/fresh-app.ts';
import { askAsOwner } from './testing/owner.ts';
import { setStage } from './testing/stage.ts';
import type { Visitor } from './testing/visitor.ts';

const stage = setStage((visitor) => visitor.enter());

/** As many characters as may be sent, with places to break a line at, or none. */
const long = (characters: number, word: string): string => word.repeat(Math.ceil(characters / word.length)).slice(0, characters);

/** A session of a build whose names are as long as they may be, and a crash in it. */
function longNames(at: Date): object[] {
  const sessionId = randomUUID();
  const screen = long(300, 'settings/notifications/when-somebody-replies/');
  const about = {
    version: `9.0.0-${long(94, 'quiet-migration-')}`,
    build: long(100, '20261129'),
    os: { name: 'Android', version: long(50, '15beta') },
    device: { manufacturer: long(100, 'Patient Instruments '), model: long(100, 'UltraWideFieldObserver') },
    country: 'GB',
    carrier: long(100, 'Skerry and Outer Isles '),
    installationId: randomUUID(),
  };
  const requests = [{ method: 'GET', host: long(200, 'tiles.'), path: `/${long(290, 'by-season/')}`, count: 3, failed: 2, durations: [] }];
  const screens = [
    { name: screen, visits: 2 },
    { name: 'home', visits: 1 },
  ];
  const startedAt = new Date(at.getTime() - 90_000).toISOString();
  return [
    {
      type: 'session',
      id: sessionId,
      sequence: 1,
      at: at.toISOString(),
      startedAt,
      state: 'ended',
      durationMs: 90_000,
      ...about,
      screens,
      requests,
    },
    {
      type: 'report',
      id: randomUUID(),
      kind: 'crash',
      occurredAt: at.toISOString(),
      sessionId,
      exceptions: [{ type: `java.lang.${long(120, 'Unexpectedly')}Exception`, message: long(900, 'it goes on ') }],
      trail: [{ kind: 'screen', at: startedAt, name: screen }],
      ...about,
    },
  ];
}

const expectInItsWidth = async ({ page }: Visitor, path: string) => {
  const [needed, given] = await page.evaluate(() => [document.documentElement.scrollWidth, document.documentElement.clientWidth]);
  expect(needed, path).toBe(given);
};

describe('names as long as they may be', () => {
  let slug: string;
  let key: string;
  const screens = ['now', 'cases', 'crash-free', 'crash-free?form=lines', 'sessions', 'screens', 'versions', 'desk', 'symbols', 'intake'];

  it('arrive', async () => {
    ({ slug, key } = await freshApp(stage.visitor, 'LN'));
    const items = Array.from({ length: 12 }, (_, hour) => longNames(new Date(Date.now() - hour * 3_600_000 - 60_000))).flat();
    const { items: told } = await sendItems(key, items);
    expect(told.map(({ outcome, reason }: { outcome: string; reason?: string }) => reason ?? outcome)).toEqual(items.map(() => 'accepted'));
    const caseCount = async () => (await askAsOwner<{ total: number }>(`/api/v1/apps/${slug}/cases`)).total;
    await expect.poll(caseCount).toBe(1);
  });

  for (const width of [1280, 390])
    it(`make no screen wider than it is, at ${width}`, async () => {
      const visitor = await stage.arrive({ width });
      await visitor.enter();
      for (const screen of screens) {
        await visitor.open(`/apps/${slug}/${screen}`);
        await visitor.hydrated();
        // The figures that come after the page have come.
        await visitor.page.waitForLoadState('networkidle');
        await expectInItsWidth(visitor, screen);
      }
      await visitor.leave();
    });

  it('leave room on a wall for what is said of them', async () => {
    const { link } = await stage.visitor.post<{ link: string }>('/api/v1/wall-links', { name: 'Hall', apps: [slug] });
    const { page } = stage.visitor;
    await stage.visitor.open(new URL(link).pathname);
    await stage.visitor.hydrated();
    await page.getByText('of the sessions').waitFor();
    await page.getByRole('list', { name: 'Cases that want a look' }).getByText('began').waitFor();
    await expectInItsWidth(stage.visitor, 'wall');
    // A link for one app shows no other.
    expect(await page.getByText('Larkfield').count()).toBe(0);
  });
});

describe('a server that does not answer', () => {
  const api = `/api/v1/apps/larkfield-guide`;
  const failing = {
    'crash-free?last=30d': `${api}/crash-free`,
    'versions?version=4.3.0': `${api}/versions`,
    'sessions?last=30d': `${api}/sessions`,
    'screens?last=30d': `${api}/screens`,
  };

  for (const [path, part] of Object.entries(failing))
    it(`leaves what is known on ${path.split('?')[0]}, and says what is wrong and what to do`, async () => {
      const visitor = await stage.arrive();
      const { page, complaints } = visitor;
      await visitor.enter();
      const error = { code: 'unavailable', message: 'The database does not answer.', remedy: 'Try again in a moment.' };
      await page.route(
        (url) => url.pathname.startsWith(part),
        (route) => route.fulfill({ status: 503, contentType: 'application/json', body: JSON.stringify({ error }) }),
      );
      await visitor.open(`/apps/larkfield-guide/${path}`);
      await visitor.hydrated();
      await page.getByRole('alert').first().getByText('Try again in a moment.').waitFor();
      await expect.poll(() => page.getByText('looking …').count()).toBe(0);
      await page.getByText('4.3.0').first().waitFor();
      await visitor.expectAccessible();
      await visitor.leave();
      // The browser tells of each answer that was an error, as long as the page asks again; of nothing else.
      expect(complaints.filter((one) => !one.includes('503'))).toEqual([]);
    });
});
