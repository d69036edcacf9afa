import { describe, expect, it } from 'vitest';
import { askAsOwner, casesOf } from './testing/owner.ts';
import { server } from './testing/server.ts';
import { setStage } from './testing/stage.ts';
import type { Visitor } from './testing/visitor.ts';

const stage = setStage((visitor) => visitor.enter());
const guide = '/apps/larkfield-guide';

/** Somebody who joins by an invitation; gives what they do on the API. */
async function joinAs(name: string): Promise<(path: string, body: object) => Promise<number>> {
  const { link } = await askAsOwner<{ link: string }>('/api/v1/people', { email: `${name}@larkfield.example`, role: 'developer' });
  const joined = await fetch(link, {
    method: 'POST',
    redirect: 'manual',
    headers: { origin: server.address, 'content-type': 'application/x-www-form-urlencoded' },
    body: new URLSearchParams({ name, password: 'a long enough secret' }),
  });
  const cookie = (joined.headers.get('set-cookie') as string).split(';')[0] as string;
  return async (path, body) =>
    (
      await fetch(`${server.address}/api/v1${path}`, {
        method: 'POST',
        headers: { cookie, origin: server.address, 'content-type': 'application/json' },
        body: JSON.stringify(body),
      })
    ).status;
}

/** Pauses the rules of the guide, which tell everybody of what other journeys send: this one is about what people do. */
async function pauseRules(visitor: Visitor): Promise<void> {
  const { rules } = await askAsOwner<{ rules: { id: number; rule: object }[] }>(`/api/v1${guide}/alert-rules`);
  for (const { id, rule } of rules) {
    const data = { ...rule, paused: true };
    const answer = await visitor.page.request.put(`/api/v1${guide}/alert-rules/${id}`, { data, headers: { origin: server.address } });
    expect(answer.status()).toBe(200);
  }
}

describe('what somebody was told', () => {
  it('shows on the top bar, says what happened and where, leads to the case, and is marked as read', async () => {
    const { page } = stage.visitor;
    await pauseRules(stage.visitor);
    const bar = page.getByRole('banner');
    // A browser without a screen shows no notice; what it would show is kept.
    await page.addInitScript(() => {
      const shown = JSON.parse(localStorage.getItem('test-notices') ?? '[]');
      class Notice {
        static permission = 'granted';
        static requestPermission = async () => 'granted';
        onclick = null;
        constructor(title: string, { body }: { body: string }) {
          shown.push(`${title} · ${body}`);
          localStorage.setItem('test-notices', JSON.stringify(shown));
        }
      }
      Object.assign(window, { Notification: Notice });
      // As if something had been shown before.
      localStorage.setItem('ember-browser-notices-shown', localStorage.getItem('ember-browser-notices-shown') ?? '0');
    });
    await stage.visitor.open(`${guide}/for-you`);
    await stage.visitor.hydrated();
    // Of a case that the demo closed and that came back, and of whatever other journeys sent before.
    await page
      .getByRole('list', { name: /messages?$/ })
      .getByRole('listitem')
      .first()
      .waitFor();
    await page.getByRole('button', { name: 'Mark all as read' }).click();
    await page.getByText('nothing unread').waitFor();
    await page.getByLabel('This browser tells me, too').check();
    await stage.visitor.expectAccessible();

    const asRobin = await joinAs('robin');
    const [one, other] = await casesOf('4.3.0');
    expect(await asRobin(`${guide}/cases/${one?.ref}/notes`, { text: '@ines, **look** at the tiles' })).toBe(200);
    expect(await asRobin(`${guide}/cases/actions`, { cases: [other?.ref], action: { action: 'assign', assignee: server.email } })).toBe(
      200,
    );

    await stage.visitor.open(`${guide}/now`);
    await stage.visitor.hydrated();
    await bar.getByRole('link', { name: 'For you, 2 unread' }).click();
    await page.waitForURL(/for-you/);
    await stage.visitor.hydrated();
    const items = page.getByRole('list', { name: /\d messages$/ }).getByRole('listitem');
    expect((await items.allTextContents()).slice(0, 2)).toEqual([
      expect.stringContaining('robin@larkfield.example asked you to look after it'),
      expect.stringContaining('robin@larkfield.example mentioned you'),
    ]);
    await items.nth(1).getByText('@ines, **look** at the tiles').waitFor();
    await stage.visitor.expectAccessible();
    const notices = () => page.evaluate(() => JSON.parse(localStorage.getItem('test-notices') ?? '[]') as string[]);
    await expect.poll(notices).toContainEqual(expect.stringContaining('Larkfield Guide: robin@larkfield.example mentioned you'));

    await items
      .nth(1)
      .getByRole('link', { name: one?.ref ?? '' })
      .click();
    await page.waitForURL(new RegExp(`/cases/${one?.ref}`));
    await stage.visitor.hydrated();
    await bar.getByRole('link', { name: 'For you, 1 unread' }).click();
    await page.waitForURL(/for-you/);
    await stage.visitor.hydrated();
    await page.getByRole('button', { name: 'Mark all as read' }).click();
    await page.getByText('nothing unread').waitFor();
    await bar.getByRole('link', { name: 'For you', exact: true }).waitFor();
  });
});
