import { randomUUID } from 'node:crypto';
import { describe, expect, it } from 'vitest';
import { freshApp, sendItems } from './testing/fresh-app.ts';
import { server } from './testing/server.ts';
import { setStage } from './testing/stage.ts';

const stage = setStage((visitor) => visitor.enter());

const crash = (name: string, version: string) => ({
  type: 'report',
  id: randomUUID(),
  kind: 'crash',
  occurredAt: new Date().toISOString(),
  version,
  build: '1',
  exceptions: [{ type: `com.larkfield.${name}`, stack: `com.larkfield.${name}\n\tat com.larkfield.guide.${name}.open(${name}.java:9)` }],
});

describe('a ticket', () => {
  it('is made of a case, closed in the tracker, and closes the case', async () => {
    const { page } = stage.visitor;
    await sendItems(server.intakeKey, [crash('BoxLid', '66.0.0')]);
    await stage.visitor.open('/apps/larkfield-guide/cases?version=66.0.0');
    await stage.visitor.hydrated();
    await stage.visitor.choose(page.locator('[data-case]', { hasText: 'BoxLid' }));
    await page.getByRole('button', { name: 'Ticket ▾' }).click();
    await page.getByRole('menuitem', { name: 'Make a ticket' }).click();
    await page.getByRole('button', { name: /^BOX-\d+ ▾$/ }).click();
    await page.getByRole('menuitem', { name: /^BOX-\d+ ↗ open$/ }).waitFor();
    await stage.visitor.expectAccessible();
    await page.getByRole('menuitem', { name: 'All tickets of the app' }).click();
    await page.waitForURL(/\/tickets$/);
    await stage.visitor.hydrated();
    const row = page.getByRole('listitem').filter({ hasText: 'BoxLid' });
    const address = (await row.getByRole('link', { name: /^BOX-\d+ ↗$/ }).getAttribute('href')) as string;
    expect(await (await fetch(address)).text()).toContain('BoxLid.open(BoxLid.java:9)');
    // Somebody at the tracker presses the button of its page.
    expect((await fetch(address, { method: 'POST' })).status).toBe(200);
    await row.getByText(/closed · the case is closed/).waitFor();
    await row.getByRole('link', { name: /BoxLid/ }).click();
    await page.waitForURL(/\/cases\//);
    await page.getByText(/^ticket BOX-\d+$/).waitFor();
    await stage.visitor.expectAccessible();
  });

  it('is written in the form of a tracker that an app names, and tied by its number', async () => {
    const { page } = stage.visitor;
    const { slug, key } = await freshApp(stage.visitor, 'TK');
    await sendItems(key, [crash('Perch', '1.0.0')]);
    await stage.visitor.open(`/apps/${slug}/tickets`);
    await stage.visitor.hydrated();
    const tracker = page.getByRole('complementary', { name: 'The tracker' });
    const form = tracker.getByLabel('Its own form for a new ticket');
    await form.fill('https://{{title}}/new');
    await tracker.getByRole('button', { name: 'Save', exact: true }).click();
    await tracker.getByText('Its own form for a new ticket: must be an http or https address').waitFor();
    await form.fill('https://boxes.larkfield.example/new?title={{title}}');
    await tracker.getByRole('button', { name: 'Save', exact: true }).click();
    await tracker.getByText('it is shown this once').waitFor();
    await stage.visitor.expectAccessible();

    await stage.visitor.open(`/apps/${slug}/cases`);
    await stage.visitor.hydrated();
    await stage.visitor.choose(stage.visitor.cases().first());
    await page.getByRole('button', { name: 'Ticket ▾' }).click();
    const written = await page.getByRole('menuitem', { name: 'Write one in the tracker ↗' }).getAttribute('href');
    expect(new URL(written as string).searchParams.get('title')).toMatch(/^TK\d+-1: Perch/);
    await page.getByRole('menuitem', { name: 'Tie to a ticket …' }).click();
    await page.getByLabel('Number of the ticket').fill('BOX-4711');
    await page.getByRole('button', { name: 'Tie it' }).click();
    await page.getByRole('button', { name: 'BOX-4711 ▾' }).waitFor();
  });
});
