import { randomUUID } from 'node:crypto';
import { fileURLToPath } from 'node:url';
import { describe, expect, it } from 'vitest';
import { freshApp, sendItems } from './testing/fresh-app.ts';
import { askAsOwner, eventually } from './testing/owner.ts';
import { setStage } from './testing/stage.ts';

const stage = setStage((visitor) => visitor.enter());

async function freshIntake(): Promise<{ intake: string; slug: string; key: string }> {
  const app = await freshApp(stage.visitor, 'FD');
  return { ...app, intake: `/apps/${app.slug}/intake` };
}

const send = (key: string, more: object = {}) =>
  sendItems(key, [
    {
      type: 'report',
      id: randomUUID(),
      kind: 'crash',
      occurredAt: new Date().toISOString(),
      version: '2.1.0',
      build: '211',
      exceptions: [{ type: 'TypeError', message: 'no clip' }],
      ...more,
    },
  ]);

describe('the Intake page', () => {
  it('waits for the first report of an app, and turns by itself when it arrives', async () => {
    const { intake, key } = await freshIntake();
    await stage.visitor.open(intake);
    await stage.visitor.hydrated();
    await stage.visitor.page.getByRole('heading', { name: /Waiting for the first report/ }).waitFor();
    await stage.visitor.page
      .getByText(/Authorization|authorization: Bearer/)
      .first()
      .waitFor();
    const reasons = stage.visitor.page.getByLabel('Why nothing may come');
    expect(await reasons.locator('dt').count()).toBe(5);
    await send('intake_of_nobody');
    await reasons.getByText('came with a key that is not taken', { exact: false }).waitFor();
    await stage.visitor.expectAccessible();
    await send(key);
    await stage.visitor.page.getByText(/The first report arrived .* ago/).waitFor();
    await stage.visitor.page.getByRole('link', { name: 'Open it' }).click();
    await stage.visitor.page.waitForURL(/\/cases\/FD\d+-1/);
  });

  it('sends a test report through the real path', async () => {
    const { intake } = await freshIntake();
    await stage.visitor.open(intake);
    await stage.visitor.hydrated();
    await stage.visitor.page.getByRole('button', { name: 'Send a test report' }).click();
    await stage.visitor.page.getByText('It arrived.').waitFor();
    await stage.visitor.page.getByText(/The first report arrived/).waitFor();
  });

  it('says what is wrong while an app waits: the key of another app, and a line that was refused', async () => {
    const { intake, key } = await freshIntake();
    await send('intake_of_some_other_app');
    await send(key, { type: 'tune' });
    await stage.visitor.open(intake);
    await stage.visitor.page.getByRole('heading', { name: 'Requests of the last hour were refused' }).waitFor();
    await stage.visitor.page.getByText('intake_of_some…').first().waitFor();
    await stage.visitor.page
      .getByText(/type: Invalid discriminator value/)
      .first()
      .waitFor();
    await stage.visitor.expectAccessible();
  });

  it('tells what was put right, and the report tells it too', async () => {
    const { intake, slug, key } = await freshIntake();
    const id = randomUUID();
    const frames = Array.from({ length: 3_000 }, (_, line) => ({
      runtime: 'jvm',
      class: 'com.larkfield.Nest',
      method: 'grow',
      file: 'Nest.kt',
      line,
    }));
    const answer = await send(key, {
      id,
      attributes: { game: { piece: 'n' } },
      exceptions: [{ type: 'java.lang.StackOverflowError', frames }],
    });
    expect(answer.items[0]).toMatchObject({
      outcome: 'accepted',
      remarks: [expect.stringContaining('1000 frames'), expect.stringContaining('own path')],
    });
    const { page } = stage.visitor;
    await stage.visitor.open(intake);
    await stage.visitor.hydrated();
    await page.getByRole('button', { name: 'put right' }).click();
    await page.getByRole('button', { name: '1 line was not simply accepted' }).click();
    await page
      .getByText(/1000 frames were cut out of the middle/)
      .first()
      .waitFor();
    await stage.visitor.expectAccessible();
    await eventually(
      () => askAsOwner<{ explanation: unknown }>(`/api/v1/apps/${slug}/reports/${id}`),
      (report) => report.explanation !== null,
    );
    await stage.visitor.open(`/apps/${slug}/reports/${id}`);
    await page.getByText(/1,000 frames were cut out here/).waitFor();
    await page.getByText('This report is not quite as it was sent (2 changes)').waitFor();
    expect(await page.getByText('Nest.grow').count()).toBeLessThan(200);
    await stage.visitor.hydrated();
    await page.getByRole('button', { name: /lines more/ }).click();
    expect(await page.getByText('Nest.grow').count()).toBeGreaterThan(1_900);
  });

  it('lets the rules of a key be changed, obeys them, and filters the log by what became of things', async () => {
    const { intake, key } = await freshIntake();
    await send(key, { version: '2.0.9' });
    await stage.visitor.open(intake);
    await stage.visitor.hydrated();
    await stage.visitor.page.getByRole('button', { name: 'Rules of phones' }).click();
    await stage.visitor.page.getByLabel('Build types refused').first().fill('internal');
    await stage.visitor.page.keyboard.press('Enter');
    await stage.visitor.expectAccessible();
    await stage.visitor.page.getByRole('button', { name: 'Save the rules' }).click();
    await stage.visitor.page.getByText(/refuses internal/).waitFor();
    expect((await send(key, { buildType: 'internal' })).items[0]).toMatchObject({
      outcome: 'refused',
      reason: expect.stringContaining('"internal"'),
    });
    expect((await send(key, { buildType: 'debug' })).items[0]).toMatchObject({ outcome: 'excluded' });
    await stage.visitor.page
      .getByText(/takes nothing from builds of type "internal"/)
      .first()
      .waitFor();
    await stage.visitor.page.getByRole('button', { name: 'excluded' }).click();
    await stage.visitor.page.getByText(/excluded from the figures: the build is of type "debug"/).waitFor();
    await expect.poll(() => stage.visitor.page.getByText('2.0.9').count()).toBe(0);
    expect(stage.visitor.page.url()).toContain('outcome=excluded');
  });

  it('makes a report of a file that an operating system wrote, and opens it with its threads and the file itself', async () => {
    const { intake } = await freshIntake();
    await stage.visitor.open(intake);
    await stage.visitor.hydrated();
    await stage.visitor.page
      .getByTestId('crash-file')
      .setInputFiles(fileURLToPath(new URL('../../core/samples/apple-ips/swift-index.ips', import.meta.url)));
    await stage.visitor.page
      .getByText(/Apple crash report \(\.ips\), crash, 4\.3\.0/)
      .first()
      .waitFor();
    await stage.visitor.page.getByRole('status').getByRole('link', { name: 'Open it' }).last().click();
    await stage.visitor.page.waitForURL(/\/cases\//);
    await stage.visitor.hydrated();
    await stage.visitor.page.getByRole('heading', { name: /EXC_BREAKPOINT/ }).waitFor();
    await stage.visitor.page.getByText('SoundWorker').waitFor();
    const original = stage.visitor.page.getByRole('link', { name: 'swift-index.ips' });
    const answer = await stage.visitor.page.request.get((await original.getAttribute('href')) as string);
    expect(answer.headers()).toMatchObject({
      'content-type': 'text/plain; charset=utf-8',
      'content-disposition': expect.stringContaining('attachment'),
      'content-security-policy': expect.stringContaining('sandbox'),
    });
    await stage.visitor.expectAccessible();
  });
});

describe('people', () => {
  it('are invited by a link that is shown once', async () => {
    await stage.visitor.open('/people');
    await stage.visitor.hydrated();
    await stage.visitor.page.getByLabel('Invite by mail address').fill('plover@larkfield.example');
    await stage.visitor.page.getByRole('button', { name: 'Make the link' }).click();
    const link = (await stage.visitor.page.getByText(/\/join\?token=/).textContent()) as string;
    const guest = await stage.arrive();
    await guest.open(new URL(link).pathname + new URL(link).search);
    await guest.hydrated();
    await guest.expectAccessible();
    await guest.page.getByLabel('Your name').fill('Plover');
    await guest.page.getByRole('textbox', { name: 'Password' }).fill('a long enough secret');
    await guest.page.getByRole('button', { name: 'Join' }).click();
    await guest.page.waitForURL(/\/cases/);
    await guest.page.getByRole('button', { name: /Plover/ }).waitFor();
    expect(guest.complaints).toEqual([]);
    await guest.leave();
    await stage.visitor.page.reload();
    await stage.visitor.page.getByText('plover@larkfield.example').waitFor();
  });
});
