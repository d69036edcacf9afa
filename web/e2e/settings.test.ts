import { expect, it } from 'vitest';
import { setStage } from './testing/stage.ts';

const stage = setStage((visitor) => visitor.enter('/apps/trails/settings'));

it('settings are found in one place, changed, seen in the history and undone', async () => {
  const { page } = stage.visitor;
  await page.getByRole('link', { name: 'How long things are kept' }).waitFor();
  await page
    .getByRole('region', { name: 'The server' })
    .getByText(/schema \d+/)
    .waitFor();
  await stage.visitor.expectAccessibleInBothSchemes();
  await page.getByLabel('Name').fill('Trails of Larkfield');
  await page.getByLabel('Web', { exact: true }).check();
  await page.getByRole('button', { name: 'Keep' }).click();
  const history = page.getByRole('region', { name: 'Changes of settings' });
  await history.getByText('Trails → Trails of Larkfield').waitFor();
  await page.getByRole('heading', { name: 'Settings of Trails of Larkfield' }).waitFor();
  await history.getByRole('button', { name: 'Undo: name' }).click();
  await history.getByText('Trails of Larkfield → Trails').waitFor();
  await page.getByRole('heading', { name: 'Settings of Trails', exact: true }).waitFor();
  await stage.visitor.expectAccessible();
});

it('reports are forwarded to a receiver, and no more', async () => {
  const { page } = stage.visitor;
  const forwarding = page.getByRole('region', { name: 'Forwarding' });
  await forwarding.getByLabel('Address of the receiver').fill('http://127.0.0.1:9/v1/logs');
  await forwarding.getByLabel('Header it knows this server by').fill('authorization');
  await forwarding.getByLabel('What the header says').fill('Bearer of seeds');
  await forwarding.getByLabel('It may lie in the network').check();
  await forwarding.getByRole('button', { name: 'Forward from now on' }).click();
  await forwarding.getByText('0 records sent').waitFor();
  await forwarding.getByText('One is kept').waitFor();
  await stage.visitor.expectAccessibleInBothSchemes();
  await forwarding.getByRole('button', { name: 'Forward no more' }).click();
  await forwarding.getByRole('button', { name: 'Forward from now on' }).waitFor();
});

it('a narrow screen shows the place that is open', async () => {
  const narrow = await stage.arrive({ width: 390 });
  try {
    await narrow.enter('/apps/trails/settings');
    const here = narrow.page.getByRole('navigation', { name: 'Places' }).getByRole('link', { name: 'Settings' });
    await expect.poll(async () => ((await here.boundingBox())?.x ?? 1_000) < 390).toBe(true);
  } finally {
    await narrow.leave();
  }
});
