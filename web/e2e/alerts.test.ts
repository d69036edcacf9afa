import { randomUUID } from 'node:crypto';
import { describe, expect, it } from 'vitest';
import { freshApp, sendItems } from './testing/fresh-app.ts';
import { setStage } from './testing/stage.ts';

const stage = setStage((visitor) => visitor.enter());

/** A crash of a name that no other test has. */
const crash = (name: string) => ({
  type: 'report',
  id: randomUUID(),
  kind: 'crash',
  occurredAt: new Date().toISOString(),
  version: '1.4.0',
  build: '14',
  installationId: randomUUID(),
  exceptions: [{ type: `com.larkfield.${name}`, stack: `com.larkfield.${name}\n\tat com.larkfield.feeder.Tray.fill(Tray.java:31)` }],
});

describe('a rule', () => {
  it('is made by its sentence, tried on history, provoked, read as mail, and what it links to is done', async () => {
    const { page } = stage.visitor;
    const { slug, key, name } = await freshApp(stage.visitor, 'AL');
    await sendItems(key, [crash('SeedJam')]);
    await stage.visitor.open(`/apps/${slug}/alerts`);
    await stage.visitor.hydrated();
    const rules = page.getByRole('region', { name: 'Rules' });
    // The rules that every app begins with would tell of what comes now, too.
    for (let left = 4; left > 0; left--) {
      await expect.poll(() => rules.getByRole('button', { name: /^Drop: / }).count()).toBe(left);
      await rules
        .getByRole('button', { name: /^Drop: / })
        .first()
        .click();
    }
    await rules.getByText('Nobody is told of anything.').waitFor();
    await stage.visitor.expectAccessible();

    await rules.getByRole('button', { name: 'New rule' }).click();
    const editor = page.getByRole('group', { name: 'Rule' });
    await editor.getByRole('button', { name: 'a case begins' }).click();
    await page.getByRole('menuitem', { name: 'Any report comes' }).click();
    await editor.getByRole('button', { name: 'everybody who sees the app' }).click();
    await page.getByRole('menuitemcheckbox', { name: 'ines@larkfield.example' }).click();
    await page.keyboard.press('Escape');
    await editor.getByLabel('Minutes').fill('1');
    await expect
      .poll(async () => {
        await editor.getByRole('button', { name: 'Try it on the last 30 days' }).click();
        return editor.getByRole('status').textContent();
      })
      .toMatch(/In the last 30 days it would have told 1 time, in 1 message:.*AL\d+-1 SeedJam in Tray\.fill/);
    await stage.visitor.expectAccessible();
    await editor.getByRole('button', { name: 'Keep the rule' }).click();
    await rules.getByText('When any report of crashes comes, tell ines@larkfield.example, at once, at most every 1 minute.').waitFor();

    await sendItems(key, [crash('LidStuck')]);
    const told = page.getByRole('region', { name: 'What was told' });
    await told.getByRole('link', { name: /Reported: AL\d+-2 LidStuck in Tray\.fill/ }).waitFor();
    const messages = page.getByRole('region', { name: 'Messages' });
    // The rules that every app begins with tell of it too, in a message of their own.
    const message = messages.getByRole('listitem').filter({ hasText: /Reported: AL\d+-2 LidStuck/ });
    await message.getByText(/To ines@larkfield\.example, delivered/).waitFor();

    await messages.getByRole('link', { name: 'Read them in the pigeon loft' }).click();
    await page.waitForURL(/pigeon-loft/);
    await stage.visitor.hydrated();
    await page.getByRole('button', { name: new RegExp(`^Read: \\[${name}\\] Reported: AL\\d+-2 LidStuck`) }).click();
    const letter = page.getByRole('listitem').filter({ hasText: 'LidStuck' });
    await letter.getByText('Tray.fill (Tray.java:31)').first().waitFor();
    await letter.getByRole('link', { name: /do=assign-to-me/ }).click();

    await page.waitForURL(/do=assign-to-me/);
    await stage.visitor.hydrated();
    const asked = page.getByRole('group', { name: /^Look after AL\d+-2 yourself\?$/ });
    await stage.visitor.expectAccessible();
    await asked.getByRole('button', { name: 'Do it' }).click();
    await page.getByRole('button', { name: 'ines ▾' }).waitFor();
    await expect.poll(() => page.url()).not.toContain('do=');

    // Whoever looks after it closes it, and the rule says nothing more of it.
    await page.getByRole('button', { name: 'Close ▾' }).click();
    await page.getByRole('menuitem', { name: 'Cured in 1.4.1, the next version' }).click();
    await page
      .getByText(/closed in 1\.4\.1/)
      .first()
      .waitFor();
  });

  it('sends by a channel whose secret is shown once, and says when it cannot', async () => {
    const { page } = stage.visitor;
    const { slug } = await freshApp(stage.visitor, 'CH');
    await stage.visitor.open(`/apps/${slug}/alerts`);
    await stage.visitor.hydrated();
    const channels = page.getByRole('region', { name: 'Channels' });
    await channels.getByRole('button', { name: 'New channel' }).click();
    await channels.getByLabel('Name').fill('Build server');
    await channels.getByLabel('Address').fill('http://localhost:9/alerts');
    await channels.getByRole('button', { name: 'Make the channel' }).click();
    await channels.getByText('it is shown this once').waitFor();
    expect(await channels.getByRole('status').first().textContent()).toContain('whsec_');
    await channels.getByRole('button', { name: 'Done' }).click();
    await channels.getByRole('button', { name: 'Send a sample by Build server' }).click();
    await channels.getByText(/localhost leads into the network of this server/).waitFor();
    await stage.visitor.expectRefusal(422);
    await stage.visitor.expectAccessible();
    await channels.getByRole('button', { name: 'Drop the channel Build server' }).click();
    await channels.getByText('None yet').waitFor();
  });
});
