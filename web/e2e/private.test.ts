import { randomUUID } from 'node:crypto';
import { describe, expect, it } from 'vitest';
import { freshApp, sendItems } from './testing/fresh-app.ts';
import { askAsOwner } from './testing/owner.ts';
import { setStage } from './testing/stage.ts';

const stage = setStage((visitor) => visitor.enter());

const reportOf = (message: string, frame: string) => ({
  type: 'report',
  id: randomUUID(),
  kind: 'crash',
  occurredAt: new Date().toISOString(),
  version: '2.1.0',
  build: '211',
  exceptions: [{ type: 'java.lang.Error', stack: `java.lang.Error: ${message}\n\tat com.larkfield.${frame}` }],
});

const messagesOf = async (slug: string): Promise<(string | null)[]> =>
  (await askAsOwner<{ cases: { message: string | null }[] }>(`/api/v1/apps/${slug}/cases?last=all`)).cases.map((one) => one.message).sort();

describe('what is private', () => {
  it('shows what rules would take out of the app’s own reports and of a text before they hold; from then on they do', async () => {
    const { page } = stage.visitor;
    const { slug, key } = await freshApp(stage.visitor, 'PV');
    await sendItems(key, [reportOf('RN-104233 is unknown', 'Feeder.fill(Feeder.java:1)')]);
    await expect.poll(() => messagesOf(slug)).toEqual(['RN-104233 is unknown']);
    await stage.visitor.open(`/apps/${slug}/intake`);
    await page.getByRole('link', { name: 'What is taken out, kept and deleted' }).click();
    await page.waitForURL(/\/private$/);
    await stage.visitor.hydrated();
    await page.getByText(/In the newest 1 report, as they are stored, these rules find nothing more/).waitFor();
    await page.getByRole('button', { name: 'Add a pattern' }).click();
    await page.getByLabel('Name of pattern 1').fill('ring number');
    await page.getByLabel('Pattern 1', { exact: true }).fill('RN-(');
    await page
      .getByRole('alert')
      .getByText(/missing/)
      .first()
      .waitFor();
    await page.getByLabel('Pattern 1', { exact: true }).fill('RN-\\d{6}');
    await page.getByText('ring [removed: ring number] seen').waitFor();
    await page.getByText('Of the newest 1 report they would change 1:').waitFor();
    await page.getByText('[removed: ring number] is unknown').waitFor();
    await stage.visitor.expectAccessible();
    await page.getByRole('button', { name: 'Scrub like this from now on' }).click();
    await page.getByRole('button', { name: 'This is how it is scrubbed' }).waitFor();
    await sendItems(key, [reportOf('RN-104233 is lost', 'Nest.hide(Nest.java:3)')]);
    await expect.poll(() => messagesOf(slug)).toEqual(['RN-104233 is unknown', '[removed: ring number] is lost']);
    // Both trials say that a pattern cannot be read.
    await stage.visitor.expectRefusal(400);
  });

  it('keeps no more than a limit allows, and says before what will go', async () => {
    const { page } = stage.visitor;
    const { slug, key } = await freshApp(stage.visitor, 'RT');
    const large = (name: string) => ({
      ...reportOf(`seen by ${name}`, 'Perch.sit(Perch.java:7)'),
      personId: name,
      sections: Array.from({ length: 9 }, (_, part) => ({ name: `part ${part}`, text: `${name} `.repeat(12_000) })),
    });
    for (const name of ['wren', 'maud', 'tom']) await sendItems(key, [large(name)]);
    await expect.poll(async () => (await messagesOf(slug)).length).toBe(1);
    await stage.visitor.open(`/apps/${slug}/private`);
    await stage.visitor.hydrated();
    await page.getByLabel('What reports hold: at most megabytes').fill('1');
    const going = page.getByRole('status', { name: 'What goes: What reports hold' });
    await going.getByText(/^\d reports?, /).waitFor();
    await page.getByRole('button', { name: 'Keep things like this' }).click();
    await going.getByText('nothing now').waitFor();
    const { cases } = await askAsOwner<{ cases: { ref: string; reports: number; people: number }[] }>(
      `/api/v1/apps/${slug}/cases?last=all`,
    );
    expect(cases).toMatchObject([{ reports: 3, people: 3 }]);
    await stage.visitor.open(`/apps/${slug}/cases/${cases[0]?.ref}?last=all&report=2`);
    await page.getByText(/it is still counted/).waitFor();
    await page.getByText(/The stack of this report went/).waitFor();
  });

  it('deletes a report, then its case, then the app, each asked about first', async () => {
    const { page } = stage.visitor;
    const { slug, key, name } = await freshApp(stage.visitor, 'DL');
    await sendItems(key, [reportOf('one', 'Perch.sit(Perch.java:7)'), reportOf('two', 'Perch.sit(Perch.java:7)')]);
    await expect.poll(async () => (await messagesOf(slug)).length).toBe(1);
    const { cases } = await askAsOwner<{ cases: { ref: string }[] }>(`/api/v1/apps/${slug}/cases?last=all`);
    await stage.visitor.open(`/apps/${slug}/cases/${cases[0]?.ref}?last=all`);
    await stage.visitor.hydrated();
    await page.getByText('report 1 of 2').waitFor();
    await page.getByRole('button', { name: /^Delete/ }).click();
    await page.getByRole('menuitem', { name: 'This report …' }).click();
    await page
      .getByRole('group', { name: /Delete this report/ })
      .getByRole('button', { name: 'Delete' })
      .click();
    await page.getByText('report 1 of 1').waitFor();
    await page.getByRole('button', { name: /^Delete/ }).click();
    await page.getByRole('menuitem', { name: /with all its reports/ }).click();
    await page.getByRole('button', { name: 'Not now' }).click();
    await page.getByRole('button', { name: /^Delete/ }).click();
    await page.getByRole('menuitem', { name: /with all its reports/ }).click();
    await page
      .getByRole('group', { name: /for good/ })
      .getByRole('button', { name: 'Delete' })
      .click();
    await page.waitForURL(new RegExp(`/apps/${slug}/cases$`));
    expect(await messagesOf(slug)).toEqual([]);

    await stage.visitor.open(`/apps/${slug}/private`);
    await stage.visitor.hydrated();
    await page.getByRole('button', { name: `Delete ${name} …` }).click();
    await page.getByLabel(/to delete it/).fill(name);
    await page.getByRole('button', { name: /for good/ }).click();
    await page.waitForURL((url) => !url.pathname.includes(slug));
    await stage.visitor.open(`/apps/${slug}/now`);
    await page.getByText(/no app/).waitFor();
    await stage.visitor.expectRefusal(404);
  });
});
