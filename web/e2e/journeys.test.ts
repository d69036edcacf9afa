import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { serverVersion } from '@rough-ember/server/server-version';
import { describe, expect, it } from 'vitest';
import { server } from './testing/server.ts';
import { setStage } from './testing/stage.ts';

const desk = '/apps/larkfield-guide/cases';
const builds = new URL('../../demo/larkfield-guide/builds/', import.meta.url);
const sendCrash = (path: string, version: string, build: string) =>
  fetch(`${server.address}/intake/v1/file?version=${version}&build=${build}&installationId=${randomUUID()}`, {
    method: 'POST',
    headers: { authorization: `Bearer ${server.intakeKey}` },
    body: readFileSync(new URL(path, builds)),
  });

const stage = setStage(() => {});

describe('the desk', () => {
  it('shows a readable crash of the obfuscated guide right after signing in', async () => {
    await stage.visitor.signIn();
    const evidence = stage.visitor.evidence();
    await stage.visitor.choose(stage.visitor.page.locator('[data-case]', { hasText: 'NightMap.tileFor' }));
    await evidence.getByRole('heading', { level: 1 }).getByText('NullPointerException in NightMap.tileFor').waitFor();
    const frames = evidence.locator('[data-ours="true"]');
    expect(await frames.nth(1).textContent()).toContain('com.larkfield.guide.map.NightMap.tileFor inlined');
    expect(await frames.nth(1).textContent()).toMatch(/NightMap\.java:\d+/);
    // Library frames are one counted line until they are asked for.
    const fold = evidence.getByRole('button', { name: /7 frames in java\.util\.stream/ });
    const shown = evidence.locator('[data-ours]');
    const before = await shown.count();
    await fold.click();
    await expect.poll(() => shown.count()).toBe(before + 7);
  });

  it('is worked from the keyboard', async () => {
    // Of this version the demo's own cases come first, whatever other journeys have sent.
    await stage.visitor.enter(`${desk}?version=4.2.0`);
    const refs = await stage.visitor.cases().evaluateAll((rows) => rows.map((row) => row.getAttribute('data-case')));
    const selected = () => stage.visitor.page.locator('[data-case][data-selected="true"]').getAttribute('data-case');
    await expect.poll(selected).toBe(refs[0]);
    await stage.visitor.page.keyboard.press('j');
    await expect.poll(selected).toBe(refs[1]);
    await stage.visitor
      .evidence()
      .getByRole('article', { name: refs[1] as string })
      .waitFor();
    await stage.visitor.page.keyboard.press('k');
    await expect.poll(selected).toBe(refs[0]);
    await stage.visitor
      .evidence()
      .getByRole('article', { name: refs[0] as string })
      .waitFor();
    await stage.visitor.page.keyboard.press(']');
    await stage.visitor
      .evidence()
      .getByText(/report 2 of \d+/)
      .waitFor();
    expect(stage.visitor.page.url()).toContain('report=1');
    await stage.visitor.page.keyboard.press('r');
    await stage.visitor
      .evidence()
      .getByText(/at [a-z]\.[\w<>]+\(SourceFile:\d+\)/)
      .waitFor();
    await stage.visitor.page.keyboard.press('o');
    await stage.visitor.page.waitForURL(new RegExp(`/cases/${refs[0]}`));
  });

  it('obeys the scope sentence, keeps it in the address, and Back undoes it', async () => {
    await stage.visitor.enter(desk);
    const scope = stage.visitor.page.getByRole('search', { name: 'Scope' });
    const first = stage.visitor.page.url();
    await scope.getByRole('button', { name: 'any version' }).click();
    await stage.visitor.page.getByRole('menuitem', { name: '4.1.0 only' }).click();
    await scope.getByRole('button', { name: '4.1.0', exact: true }).waitFor();
    expect(stage.visitor.page.url()).toContain('version=4.1.0');
    await scope.getByRole('button', { name: 'last 30 days' }).click();
    await stage.visitor.page.getByRole('menuitem', { name: 'All time' }).click();
    await stage.visitor.page.locator('[data-case]', { hasText: 'ChecklistPager.at' }).waitFor();
    await stage.visitor.page.reload();
    await stage.visitor.page.locator('[data-case]', { hasText: 'ChecklistPager.at' }).waitFor();
    await stage.visitor.hydrated();

    await scope.getByRole('button', { name: 'Crashes, hangs and kills' }).click();
    await stage.visitor.page.getByRole('menuitemcheckbox', { name: 'Handled errors' }).click();
    await stage.visitor.page.locator('[data-case]', { hasText: 'TideClient.connect' }).waitFor();
    await stage.visitor.page.keyboard.press('Escape');
    await stage.visitor.page.goBack();
    await stage.visitor.page.locator('[data-case]', { hasText: 'TideClient.connect' }).waitFor({ state: 'detached' });
    await stage.visitor.page.goBack();
    await stage.visitor.page.goBack();
    await scope.getByRole('button', { name: 'any version' }).waitFor();
    await expect.poll(() => stage.visitor.page.url()).toBe(first);
    await stage.visitor.page.locator('[data-case]', { hasText: 'NightMap.tileFor' }).waitFor();
  });

  it('says what to do when the scope holds nothing', async () => {
    await stage.visitor.enter(`${desk}?version=0.0.1`);
    await stage.visitor.page.getByText('No report lies in this scope').waitFor();
    await stage.visitor.expectAccessible();
    await stage.visitor.page.getByRole('button', { name: 'Look at everything' }).click();
    await stage.visitor.cases().first().waitFor();
  });

  it('shows a crash by itself when it has arrived', async () => {
    // The list draws only the rows in view, so the scope is kept to a few cases, whatever the day brought.
    await stage.visitor.enter(`${desk}?last=1d&version=4.2.0`);
    const row = stage.visitor.page.locator('[data-case]', { hasText: 'DiaryExport.Card.write' });
    expect(await row.count()).toBe(0);
    expect((await sendCrash('4.2.0/crashes/diary-export.txt', '4.2.0', '420')).status).toBe(202);
    await row.waitFor();
  });
});

describe('a missing mapping', () => {
  it('is named with its command, dropped in, and the stack becomes readable where it stands', async () => {
    expect((await sendCrash('4.3.1/crashes/night-map.txt', '4.3.1', '431')).status).toBe(202);
    await stage.visitor.enter(desk);
    const raw = stage.visitor.page.locator('[data-case]', { hasText: /[a-z]\.a\(SourceFile:4009\)/ });
    await stage.visitor.choose(raw);
    const evidence = stage.visitor.evidence();
    const notice = evidence.getByRole('region', { name: 'Missing mapping of 4.3.1' });
    await notice.getByText('The mapping of 4.3.1 (431) is missing').waitFor();
    expect(await notice.locator('code').first().textContent()).toBe(
      `npx --yes --package ${server.address}/downloads/${serverVersion}/rough-ember-cli.tgz ember upload --server ${server.address} --app larkfield-guide --version 4.3.1 --build 431 mapping.txt`,
    );
    await stage.visitor.expectAccessible();

    // The wrong file first: refused with what it looks like.
    const chooser = notice.getByLabel('File with the mapping of 4.3.1');
    await chooser.setInputFiles({ name: 'icon.png', mimeType: 'image/png', buffer: Buffer.from([0x89, 0x50, 0x4e, 0x47, 13, 10]) });
    await notice.getByText('looks like a PNG picture').waitFor();
    // The browser itself logs the refusal of its own request.
    await stage.visitor.expectRefusal(422);

    await stage.visitor.page.evaluate(() => {
      (window as unknown as { stayed: boolean }).stayed = true;
    });
    await chooser.setInputFiles(new URL('4.3.1/mapping.txt', builds).pathname);
    await evidence.getByRole('heading', { level: 1 }).getByText('NullPointerException in NightMap.tileFor').waitFor();
    await evidence
      .getByText('symbolicated with the mapping of 4.3.1 (431)')
      .or(evidence.getByText(/4\.3\.1/).first())
      .first()
      .waitFor();
    await notice.waitFor({ state: 'detached' });
    await raw.waitFor({ state: 'detached' });
    // Both builds' reports are one case now, and the page was never loaded again.
    expect(await stage.visitor.page.locator('[data-case]', { hasText: 'NightMap.tileFor' }).count()).toBe(1);
    expect(await stage.visitor.page.evaluate(() => (window as unknown as { stayed?: boolean }).stayed)).toBe(true);
  });
});

describe('symbols', () => {
  it('tell what running builds have, and take a mapping of any build', async () => {
    await stage.visitor.enter('/apps/larkfield-guide/symbols');
    await stage.visitor.page.getByRole('button', { name: 'mapping of 4.2.0: have it' }).waitFor();
    await stage.visitor.page.getByLabel('Symbol files', { exact: true }).setInputFiles(new URL('4.1.0/mapping.txt', builds).pathname);
    await stage.visitor.page.getByLabel('Version', { exact: true }).fill('7.0.0');
    await stage.visitor.page.getByLabel('Build', { exact: true }).fill('700');
    await stage.visitor.page.getByRole('button', { name: 'Upload 1 file' }).click();
    await stage.visitor.page.getByRole('row', { name: /7\.0\.0 \(700\).*unused so far/ }).waitFor();
    await stage.visitor.expectAccessible();
  });
});

describe('intake', () => {
  it('shows a refused request with its reason as it comes', async () => {
    await stage.visitor.enter('/apps/larkfield-guide/intake');
    await fetch(`${server.address}/intake/v1/batch`, {
      method: 'POST',
      headers: { authorization: `Bearer ${server.intakeKey}`, 'user-agent': 'a phone' },
      body: '{"type":"report"',
    });
    await stage.visitor.page.getByText(/line 1 is not JSON/).waitFor();
    await stage.visitor.expectAccessible();
  });

  it('makes a key that works at once and is refused once it is revoked', async () => {
    await stage.visitor.enter('/apps/larkfield-guide/intake');
    await stage.visitor.page.getByLabel('Name of a new key').fill('tablets');
    await stage.visitor.page.getByRole('button', { name: 'Make' }).first().click();
    const row = stage.visitor.page.getByRole('listitem').filter({ hasText: 'tablets' }).filter({ hasText: 'intake_' });
    const key = (await row.locator('code').textContent()) as string;
    const send = async () =>
      (
        await fetch(`${server.address}/intake/v1/file?version=1&build=1`, {
          method: 'POST',
          headers: { authorization: `Bearer ${key}` },
          body: 'no crash',
        })
      ).status;
    expect(await send()).toBe(422);
    await row.getByRole('button', { name: 'Revoke tablets' }).click();
    await row.getByRole('button', { name: 'Revoke tablets' }).click();
    await row.getByText('revoked').waitFor();
    expect(await send()).toBe(401);
  });

  it('shows a new upload token once', async () => {
    await stage.visitor.enter('/apps/larkfield-guide/intake');
    await stage.visitor.page.getByLabel('Name of a new token').fill('second build server');
    await stage.visitor.page.getByRole('button', { name: 'Make' }).last().click();
    const token = (await stage.visitor.page.getByText('Shown this once').locator('code').textContent()) as string;
    expect(token).toMatch(/^upload_.{20,}/);
    await stage.visitor.page.reload();
    expect(await stage.visitor.page.content()).not.toContain(token);
  });
});

describe('the zone that somebody chose', () => {
  const choose = async (zone: string) => {
    const { page } = stage.visitor;
    await stage.visitor.enter('/account');
    const kept = page.waitForResponse((answer) => answer.url().endsWith('/account/zone') && answer.ok());
    await page.getByLabel('Times are shown in').selectOption(zone);
    await kept;
  };

  it('is that of every time they are shown, on the first page already', async () => {
    await choose('Asia/Tokyo');
    await stage.visitor.enter(`${desk}?version=4.2.0`);
    const time = stage.visitor.evidence().getByText(/\d\d:\d\d UTC\+9/);
    await time.first().waitFor();
    const asSent = await stage.visitor.page.request.get(stage.visitor.page.url());
    expect(await asSent.text()).toContain('UTC+9');
    await choose('');
  });
});

describe('a text that cannot be printed', () => {
  it('is shown the same by the server and in the browser', async () => {
    const message = 'a bell \u0007, a null \u0000, half a letter \ud800 and a\rreturn';
    const report = {
      type: 'report',
      id: randomUUID(),
      kind: 'crash',
      occurredAt: new Date().toISOString(),
      version: '4.3.0',
      build: '430',
    };
    const answer = await fetch(`${server.address}/intake/v1/batch`, {
      method: 'POST',
      headers: { authorization: `Bearer ${server.intakeKey}` },
      body: JSON.stringify({ ...report, exceptions: [{ type: 'odd.Text', message }] }),
    });
    expect(answer.status).toBe(202);
    await stage.visitor.enter(`${desk}?last=1d&filter=${encodeURIComponent('type = odd.Text')}`);
    await stage.visitor.choose(stage.visitor.page.locator('[data-case]', { hasText: 'Text' }).filter({ hasText: 'a bell ␇, a null ␀' }));
    await stage.visitor.page.reload();
    await stage.visitor.hydrated();
    await stage.visitor.evidence().getByText('half a letter \ufffd and a␍return').first().waitFor();
  });
});

describe('a new app', () => {
  it('is made by its owner, waits for its first report, and shows it by itself', async () => {
    await stage.visitor.enter(desk);
    await stage.visitor.page.getByRole('button', { name: 'Larkfield Guide' }).click();
    await stage.visitor.page.getByRole('menuitem', { name: 'New app …' }).click();
    await stage.visitor.page.waitForURL('**/new-app');
    await stage.visitor.hydrated();
    await stage.visitor.expectAccessible();
    const make = async (name: string, prefix: string) => {
      await stage.visitor.page.getByLabel('Name').fill(name);
      await stage.visitor.page.getByLabel('Prefix').fill(prefix);
      await stage.visitor.page.getByRole('button', { name: 'Make the app' }).click();
    };
    await make('Another guide', 'LG');
    await stage.visitor.page.getByText('with the prefix LG already').waitFor();
    await stage.visitor.expectRefusal(409);
    await make('Pond Watch', 'pw');
    await stage.visitor.page.waitForURL('**/apps/pond-watch/intake');
    // Not the sentence above it: that also tells owners of requests that other tests sent with keys of no app.
    await stage.visitor.page.getByRole('heading', { name: 'Waiting for the first report of Pond Watch' }).waitFor();
    await stage.visitor.expectAccessible();
    const key = await stage.visitor.page.getByRole('listitem').filter({ hasText: 'phones' }).locator('code').textContent();

    await stage.visitor.open('/apps/pond-watch/cases');
    await stage.visitor.hydrated();
    await stage.visitor.page.getByText('No report of Pond Watch has arrived yet').waitFor();
    await stage.visitor.expectAccessible();
    await fetch(`${server.address}/intake/v1/file?version=1.0&build=1`, {
      method: 'POST',
      headers: { authorization: `Bearer ${key}` },
      body: 'Exception in thread "main" java.lang.IllegalStateException: no feeder\n\tat com.example.Feeder.open(Feeder.kt:12)\n',
    });
    await stage.visitor.page.locator('[data-case="PW-1"]', { hasText: 'Feeder.open' }).waitFor();
    await stage.visitor.evidence().getByText('as it was written; no symbol file needed').waitFor();

    await stage.visitor.open('/apps/pond-watch/now');
    await stage.visitor.hydrated();
    const next = stage.visitor.page.getByRole('region', { name: 'Worth doing next' });
    await next.getByRole('link', { name: 'Let the client tell of sessions' }).waitFor();
    await stage.visitor.expectAccessible();
    await next.getByRole('button', { name: 'Not for us: Record the rollouts of versions' }).click();
    await next.getByRole('link', { name: 'Record the rollouts of versions' }).waitFor({ state: 'detached' });
  });
});
