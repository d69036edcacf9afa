import { describe, expect, it } from 'vitest';
import { server } from './testing/server.ts';
import { setStage } from './testing/stage.ts';

const send = async (version: string, where: string) => {
  const answer = await fetch(`${server.address}/intake/v1/file?version=${version}&build=1`, {
    method: 'POST',
    headers: { authorization: `Bearer ${server.intakeKey}` },
    body: `Exception in thread "main" java.lang.IllegalStateException: state of ${where}\n\tat com.larkfield.guide.${where}(${where.split('.')[0]}.java:7)\n`,
  });
  expect(answer.status).toBe(202);
};

const stage = setStage(() => {});

const row = (where: string) => stage.visitor.page.locator('[data-case]', { hasText: where });
async function openDesk(version: string): Promise<void> {
  await stage.visitor.enter(`/apps/larkfield-guide/cases?version=${version}`);
}

describe('a case', () => {
  it('has keys, which are shown when they are asked for', async () => {
    await send('60.0.0', 'Moult.watch');
    await openDesk('60.0.0');
    await row('Moult.watch').waitFor();
    await stage.visitor.page.keyboard.press('?');
    const help = stage.visitor.page.getByRole('dialog', { name: 'Keys' });
    await help.getByText('close in a version').waitFor();
    await stage.visitor.expectAccessible();
    await stage.visitor.page.keyboard.press('Escape');
    await help.waitFor({ state: 'hidden' });
  });

  it('is closed by keyboard, leaves the list, is opened again by a newer report, and tells so', async () => {
    await send('61.0.0', 'Ringing.read');
    await openDesk('61.0.0%2B');
    await stage.visitor.choose(row('Ringing.read'));
    await stage.visitor.page.keyboard.press('c');
    await stage.visitor.page.getByRole('menuitem', { name: 'Cured in 61.0.1, the next version' }).waitFor();
    await stage.visitor.expectAccessible();
    // The first item has the focus.
    await stage.visitor.page.waitForFunction(() => document.activeElement?.getAttribute('role') === 'menuitem');
    await stage.visitor.page.keyboard.press('Enter');
    await stage.visitor.page.getByText('No open case in this scope').waitFor();

    await send('61.0.1', 'Ringing.read');
    await row('Ringing.read').getByText('reopened, was closed in 61.0.1').waitFor();
    await stage.visitor.choose(row('Ringing.read'));
    const talk = stage.visitor.evidence().locator('#talk');
    await talk.getByText('A report of 61.0.1 opened it again').waitFor();
    await talk.getByText('closed it in 61.0.1').waitFor();

    await talk.getByLabel('Note').fill('the reader is back, see the ring numbers');
    await talk.getByRole('button', { name: 'Keep the note' }).click();
    await talk.getByText('the reader is back, see the ring numbers').waitFor();
    await stage.visitor.expectAccessible();
    await talk.getByRole('button', { name: 'Undo' }).click();
    await stage.visitor.evidence().getByText('closed in 61.0.1', { exact: true }).waitFor();
  });

  it('is marked with others, and all are muted and assigned together', async () => {
    for (const where of ['Clutch.count', 'Clutch.weigh', 'Clutch.warm']) await send('62.0.0', where);
    await openDesk('62.0.0');
    await row('Clutch.warm').waitFor();
    await stage.visitor.cases().nth(2).waitFor();
    await stage.visitor.page.getByRole('button', { name: 'most reports first' }).click();
    await stage.visitor.page.getByRole('menuitem', { name: 'Newest first' }).click();
    await stage.visitor.page.waitForURL(/order=newest/);
    await stage.visitor.cases().first().filter({ hasText: 'Clutch.warm' }).waitFor();
    await stage.visitor.choose(stage.visitor.cases().first());
    await stage.visitor.page.keyboard.press('x');
    await stage.visitor.page.keyboard.press('j');
    await stage.visitor.page.keyboard.press('x');
    const marked = stage.visitor.page.getByRole('region', { name: 'Marked cases' });
    await marked.getByText('2 cases marked').waitFor();
    await stage.visitor.expectAccessible();
    await stage.visitor.page.keyboard.press('a');
    await stage.visitor.page.getByRole('menuitem', { name: 'I look after it' }).click();
    await marked.getByText('Let ines@larkfield.example look after 2 cases?').waitFor();
    await stage.visitor.page.waitForFunction(() => document.activeElement?.textContent === 'Do it');
    await stage.visitor.page.keyboard.press('Enter');
    await marked.waitFor({ state: 'detached' });
    await stage.visitor.cases().filter({ hasText: 'ines' }).nth(1).waitFor();
    expect(await stage.visitor.cases().filter({ hasText: 'ines' }).count()).toBe(2);

    await stage.visitor.page.keyboard.press('x');
    await marked.getByRole('button', { name: 'take all 3' }).click();
    await marked.getByText('All 3 cases of the scope').waitFor();
    await stage.visitor.page.keyboard.press('m');
    await stage.visitor.page.getByRole('menuitem', { name: 'For good' }).click();
    await marked.getByText('Mute 3 cases for good?').waitFor();
    await marked.getByRole('button', { name: 'Do it' }).click();
    await stage.visitor.page.getByText('No open case in this scope').waitFor();
    await stage.visitor.page.getByRole('button', { name: 'open cases' }).click();
    await stage.visitor.page.getByRole('menuitem', { name: 'Muted cases' }).click();
    await stage.visitor.cases().nth(2).waitFor();
    await stage.visitor.cases().filter({ hasText: 'muted for good' }).nth(2).waitFor();
  });
});
