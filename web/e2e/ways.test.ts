import { describe, expect, it } from 'vitest';
import { setStage } from './testing/stage.ts';

const ways = '/apps/larkfield-guide/ways';
const stage = setStage(() => {});

describe('ways through the app', () => {
  it('one that is chosen is followed step by step to the sessions that went it', async () => {
    const { page } = stage.visitor;
    await stage.visitor.enter();
    await stage.visitor.open(ways);
    await stage.visitor.hydrated();
    const table = page.getByRole('region', { name: 'Ways through screens' });
    await table.getByRole('button', { name: /^night-map/ }).click();
    const funnel = page.getByRole('region', { name: 'Who gets how far' });
    await funnel.getByRole('row', { name: /2 crash/ }).waitFor();
    await expect.poll(() => new URL(page.url()).searchParams.get('sequence')).toBe('screen night-map then crash');
    await funnel.getByRole('row', { name: /1 screen night-map .* looked at/ }).waitFor();
    const sessions = page.getByRole('region', { name: 'Sessions that went so' });
    await sessions.getByRole('link').first().click();
    await page.getByText('night-map').first().waitFor();
  });

  it('a sequence is put together from steps that sessions took, made sooner, and taken apart', async () => {
    const { page } = stage.visitor;
    await stage.visitor.enter();
    await stage.visitor.open(ways);
    await stage.visitor.hydrated();
    const sentence = page.getByRole('region', { name: 'Sequence' });
    for (const [button, find, step] of [
      ['+ first step', 'map', 'screen map'],
      ['+ then', '504', 'request'],
    ] as const) {
      await sentence.getByRole('button', { name: button }).click();
      await page.getByRole('textbox', { name: 'Find a step' }).fill(find === '504' ? 'tiles' : find);
      await page
        .getByRole('menuitem', { name: new RegExp(`^${step}`) })
        .first()
        .click();
      await page.getByRole('menu').waitFor({ state: 'hidden' });
    }
    await sentence.getByRole('button', { name: /^request/ }).click();
    await page.getByRole('menuitem', { name: 'failed' }).click();
    await page.getByRole('menu').waitFor({ state: 'hidden' });
    await sentence.getByRole('button', { name: /^request .* failed/ }).click();
    await page.getByRole('menuitem', { name: 'Within 1 min' }).click();
    await expect
      .poll(() => new URL(page.url()).searchParams.get('sequence'))
      .toMatch(/^screen map then request "GET tiles.* failed within 1 min$/);
    await page.getByRole('row', { name: /2 request/ }).waitFor();
    await page.goBack();
    await expect.poll(() => new URL(page.url()).searchParams.get('sequence')).not.toContain('within');
    await sentence.getByRole('button', { name: 'clear' }).click();
    await page.getByText('Choose steps, or a way above').waitFor();
  });

  it('one that is written is read, and what is not understood is said', async () => {
    const { page } = stage.visitor;
    await stage.visitor.enter();
    await stage.visitor.open(ways);
    await stage.visitor.hydrated();
    await page.getByRole('button', { name: 'write it …' }).click();
    const line = page.getByRole('textbox', { name: 'Sequence' });
    await line.fill('Map then crash');
    await line.press('Enter');
    await page.getByText('"Map" begins no step').waitFor();
    await line.fill('screen night-map then crash within 30 s');
    await line.press('Enter');
    await page.getByRole('row', { name: /2 crash within 30 s/ }).waitFor();
    await stage.visitor.expectAccessible();
  });
});
