import { randomUUID } from 'node:crypto';
import type { AppScreens } from '@rough-ember/server/stability/app-activity';
import type { PeopleOverTimeView } from '@rough-ember/server/stability/people-over-time';
import { describe, expect, it } from 'vitest';
import { sendItems } from './testing/fresh-app.ts';
import { askAsOwner } from './testing/owner.ts';
import { server } from './testing/server.ts';
import { setStage } from './testing/stage.ts';

const guide = '/apps/larkfield-guide';

const stage = setStage((visitor) => visitor.enter());

const open = async (path: string) => {
  await stage.visitor.open(`${guide}/${path}`);
  await stage.visitor.hydrated();
};

const expectDescending = (numbers: readonly number[]) => expect(numbers).toEqual([...numbers].sort((a, b) => b - a));

describe('whoever owns a release', () => {
  it('goes from a version that must not go further to the case that makes the difference, and its device', async () => {
    const { page } = stage.visitor;
    await open('versions');
    await page.getByRole('button', { name: /^4\.3\.0 / }).click();
    const check = page.getByRole('region', { name: 'Rollout check' });
    await check.getByText('It must not go to more people.').waitFor();
    await check.getByText('lower end of crash-free sessions at least 98.5 %').waitFor();
    await stage.visitor.expectAccessible();
    await check.getByRole('link', { name: 'why' }).first().click();
    await page.waitForURL(/crash-free/);
    await stage.visitor.hydrated();

    await page.getByRole('region', { name: 'Sessions without a crash' }).getByText('%').first().waitFor();
    await page.getByRole('button', { name: /^Tarn Go 3, 4\.2\.0:/ }).click();
    await page.waitForURL(/cell-down=Tarn%20Go%203/);
    const side = page.getByRole('complementary', { name: 'What makes the difference' });
    await side.getByRole('heading', { name: '4.2.0 on Tarn Go 3' }).waitFor();
    await side.getByText('DiaryExport.Card.write').waitFor();
    await stage.visitor.expectAccessible();
    await side.getByRole('listitem').filter({ hasText: 'DiaryExport.Card.write' }).getByRole('link').click();
    await page.waitForURL(/\/cases\/LG-\d+/);
    await stage.visitor.hydrated();
    await page.getByRole('heading', { level: 1, name: /DiaryExport.Card.write/ }).waitFor();
  });

  it('records how far a version is out, halts it, and lets it go on', async () => {
    const { page } = stage.visitor;
    await open('versions?version=4.2.0');
    await page.getByLabel('To percent').fill('55');
    await page.getByLabel('Note').fill('more than half');
    await page.getByRole('button', { name: 'Record', exact: true }).click();
    const side = page.getByRole('complementary', { name: 'The chosen version' });
    await side.getByText('more than half').waitFor();
    await side.getByRole('button', { name: 'Halted at 55 %' }).click();
    await page.getByRole('button', { name: /4\.2\.0 halted at 55 %/ }).waitFor();
    await side.getByRole('button', { name: 'It goes on' }).click();
    await page.getByRole('button', { name: /4\.2\.0 out to 55 %/ }).waitFor();
  });
});

describe('the screens of the app', () => {
  it('are found from Crash-free, the worst first, and lead to their case; a request to the case that follows its failure', async () => {
    const { page } = stage.visitor;
    await open('crash-free?last=90d');
    await page.getByRole('link', { name: 'Screens and requests' }).click();
    await page.waitForURL(/screens\?last=90d/);
    await stage.visitor.hydrated();
    const screens = page.getByRole('region', { name: 'Screens of the app' });
    await screens.getByRole('row').nth(1).getByText('night-map').waitFor();
    const chosen = page.getByRole('complementary', { name: 'What is chosen' });
    await chosen.getByRole('heading', { name: 'night-map' }).waitFor();
    // Whether that is sure depends on the day, which moves what the demo has.
    const { screens: counted } = await askAsOwner<AppScreens>('/api/v1/apps/larkfield-guide/screens?last=90d');
    const isSure = counted.find((one) => one.screen === 'night-map')?.verdict === 'worse';
    await expect.poll(() => chosen.getByText('surely more than the others').count()).toBe(isSure ? 1 : 0);

    await screens.getByRole('button', { name: 'visits', exact: true }).click();
    await screens.getByRole('row').nth(1).getByText('home').waitFor();
    await screens.getByRole('button', { name: 'song', exact: true }).click();
    await page.waitForURL(/screen=song/);
    await chosen.getByRole('heading', { name: 'song' }).waitFor();
    await stage.visitor.expectAccessible();

    const requests = page.getByRole('region', { name: 'Requests of the app' });
    await requests.getByRole('button', { name: /tiles\.larkfield\.example/ }).click();
    await page.waitForURL(/request=GET/);
    await chosen.getByText('Cases that follow its failure').waitFor();
    await chosen.getByText('NightMap.tileFor').waitFor();
    const [file] = await Promise.all([page.waitForEvent('download'), requests.getByRole('button', { name: 'CSV' }).click()]);
    expect(file.suggestedFilename()).toBe('larkfield-guide-requests.csv');

    await page.goBack();
    await chosen.getByRole('heading', { name: 'song' }).waitFor();
    await chosen.getByRole('link', { name: 'All cases of this screen' }).click();
    await page.waitForURL(/\/cases\?.*filter=screen/);
    await stage.visitor.hydrated();
    await page.getByText('screen is song').first().waitFor();
  });

  it('are nothing where no session tells of them, with what to do', async () => {
    const { page } = stage.visitor;
    await open('screens?version=0.0.1');
    await page.getByRole('heading', { name: 'No session of this scope tells of its screens or requests' }).waitFor();
    await stage.visitor.expectAccessible();
    await page.getByRole('button', { name: 'Look at all time' }).click();
    await page.getByRole('region', { name: 'Screens of the app' }).waitFor();
  });
});

describe('the people of the app', () => {
  it('are found from Crash-free: who begins, stays and comes back, and who has a version that is still supported', async () => {
    const { page } = stage.visitor;
    await open('crash-free');
    await page.getByRole('link', { name: 'People', exact: true }).click();
    await page.waitForURL(/\/people/);
    await stage.visitor.hydrated();
    const told = await askAsOwner<PeopleOverTimeView>('/api/v1/apps/larkfield-guide/people-over-time');
    const weekBefore = told.weeks.at(-2);
    for (const { people, begun, stayed, cameBack } of told.weeks) expect(begun + stayed + cameBack).toBe(people);
    const row = page.getByRole('table').first().getByRole('row').nth(2);
    await row.getByText((weekBefore?.people ?? 0).toLocaleString('en'), { exact: true }).waitFor();
    const oldest = told.ofVersions[0];
    const cell = page.getByRole('row', { name: new RegExp(`^${oldest?.version} `) }).getByTitle(/of them \(95 %/);
    await cell.first().waitFor();
    expect(await cell.count()).toBe(oldest?.later.filter((one) => one !== null).length);
    await stage.visitor.expectAccessible();

    await open('versions?version=4.2.0');
    await page.getByRole('button', { name: 'Change what is asked' }).click();
    const drawer = page.getByRole('dialog', { name: 'Before a version goes further' });
    await drawer.getByLabel('Oldest version that is still supported').fill('4.3.0');
    await drawer.getByRole('button', { name: 'Save' }).click();
    await drawer.waitFor({ state: 'detached' });
    await open('people');
    await page.getByText('4.3.0 or a later version, which are supported').waitFor();
  });
});

describe('what is asked of a version', () => {
  it('is changed by whoever may, and judges at once', async () => {
    const { page } = stage.visitor;
    await open('versions?version=4.2.0');
    const check = page.getByRole('region', { name: 'Rollout check' });
    await check.getByRole('button', { name: 'Change what is asked' }).click();
    const drawer = page.getByRole('dialog', { name: 'Before a version goes further' });
    const sessions = drawer.getByLabel('Sessions at least', { exact: true });
    await sessions.fill('90000000');
    await drawer.getByLabel('Target of the app').fill('99.9');
    await stage.visitor.expectAccessible();
    await drawer.getByRole('button', { name: 'Save' }).click();
    await check.getByText('at least 90,000,000 sessions').waitFor();
    await check.getByRole('button', { name: 'Change what is asked' }).click();
    await sessions.fill('');
    await drawer.getByRole('button', { name: 'Save' }).click();
    await check.getByText(/at least [\d,]+ sessions: there are/).waitFor({ state: 'detached' });
    await check.getByRole('button', { name: 'Change what is asked' }).click();
    await sessions.fill('1000');
    await drawer.getByLabel('Target of the app').fill('99.5');
    await drawer.getByRole('button', { name: 'Save' }).click();
    await check.getByText('at least 1,000 sessions').waitFor();
  });
});

describe('a wall', () => {
  it('shows the apps in turn to whoever has the link, and to nobody once it is revoked', async () => {
    const { page } = stage.visitor;
    await open('now');
    await page.getByRole('button', { name: 'On a big screen …' }).click();
    const drawer = page.getByRole('dialog', { name: 'On a big screen' });
    await drawer.getByLabel('Name of the link').fill('Kitchen');
    await stage.visitor.expectAccessible();
    await drawer.getByRole('button', { name: 'Make the link' }).click();
    await drawer.getByLabel('Clock while it is the turn of Larkfield Guide').selectOption('Asia/Tokyo');
    const link = (await drawer.getByText(/\/wall\/wall_/).textContent()) as string;
    const stranger = await stage.arrive({ scheme: 'dark' });
    await stranger.open(new URL(link).pathname);
    await stranger.hydrated();
    const screen = stranger.page;
    await screen.getByText('Sessions without a crash, seven days').waitFor();
    const turns = screen.getByRole('list', { name: 'Apps that take turns' });
    const shown = async () => (await turns.locator('[aria-current="true"]').textContent()) as string;
    const turn = async () => {
      const before = await shown();
      await screen.keyboard.press('ArrowRight');
      await expect.poll(shown).not.toBe(before);
    };
    await stranger.expectAccessible();
    await turn();
    while ((await shown()) !== 'Larkfield Guide') await turn();
    await screen.getByRole('heading', { level: 1, name: 'Larkfield Guide', exact: true }).waitFor();
    await screen.getByText('UTC+9').waitFor();
    // The link opens nothing else.
    const cases = await screen.request.get(`/api/v1${guide}/cases`);
    expect(cases.status()).toBe(401);

    await drawer.getByRole('button', { name: 'Revoke Kitchen' }).click();
    await drawer.getByRole('button', { name: 'Revoke Kitchen' }).waitFor({ state: 'detached' });
    await screen.getByText('This link was revoked', { exact: false }).waitFor();
    await screen.getByText('Sessions without a crash, seven days').waitFor({ state: 'detached' });
    expect(await screen.locator('main').textContent()).not.toContain('%');
    expect((await screen.request.get(new URL(link).pathname)).status()).toBe(404);
    await stranger.leave();
  });
});

describe('a newcomer', () => {
  it('finds their way by questions that the screens answer', async () => {
    const { page } = stage.visitor;
    await open('now');
    const look = page.getByRole('region', { name: 'A first look' });
    await look.getByRole('button', { name: '4.2.0' }).click();
    await look.getByText('Not that; Versions shows it.').waitFor();
    await look.getByRole('button', { name: '4.3.1' }).click();
    await look.getByText('was halted: its check says').waitFor();
    await stage.visitor.expectAccessible();
    await page.reload();
    await stage.visitor.hydrated();
    await look.getByText('1 of 5').waitFor();
    await look.getByRole('button', { name: 'I know my way' }).click();
    await look.waitFor({ state: 'detached' });
  });
});

describe('crash-free', () => {
  it('shows the cells of the matrix as lines, in order, each with its cases', async () => {
    const { page } = stage.visitor;
    await open('crash-free?last=90d&across=os.name');
    const matrix = page.getByRole('region', { name: 'Sessions by two fields' });
    // The chart comes later than the page, and moves what is below it away from the pointer.
    await page.getByText('columns: sessions of the day').waitFor();
    await matrix.getByRole('button', { name: /^Tarn Go 3, Android:/ }).hover();
    const card = page.getByRole('status').getByText('DiaryExport.Card.write');
    await card.waitFor();
    await page.mouse.move(0, 0);
    await card.waitFor({ state: 'detached' });
    await matrix.getByRole('button', { name: /^Tarn Go 3, Android:/ }).focus();
    await card.waitFor();
    await matrix.getByRole('button', { name: 'As lines' }).click();
    await page.waitForURL(/form=lines/);
    const numbersOf = async (column: number) =>
      (await matrix.getByRole('row').locator(`td:nth-of-type(${column})`).allTextContents()).map((text) => text.replaceAll(',', ''));
    const rates = await numbersOf(4);
    const [sure, unsure] = [rates.filter((text) => !text.includes('?')), rates.filter((text) => text.includes('?'))];
    expect(rates).toEqual([...sure, ...unsure]);
    for (const part of [sure, unsure]) expectDescending(part.map(Number.parseFloat));
    await matrix.getByRole('button', { name: 'people', exact: true }).click();
    await matrix.getByRole('columnheader', { name: 'people', exact: true }).and(page.locator('[aria-sort="descending"]')).waitFor();
    expectDescending((await numbersOf(5)).map(Number));
    await stage.visitor.expectAccessible();
    await matrix.getByRole('rowheader').getByRole('button', { name: 'Tarn Go 3' }).click();
    await page.waitForURL(/cell-down=Tarn%20Go%203/);
  });

  it('counts a session and its crash when they have arrived, and leads to what happened in it', async () => {
    const { page } = stage.visitor;
    const sessionId = randomUUID();
    const startedAt = new Date(Date.now() - 60_000);
    const at = (ms: number) => new Date(startedAt.getTime() + ms).toISOString();
    const about = {
      version: '0.63.0',
      build: '1',
      os: { name: 'Android', version: '14' },
      device: { model: 'Brill 6a' },
      installationId: randomUUID(),
    };
    const items = [
      { type: 'session', id: sessionId, sequence: 0, at: at(0), startedAt: at(0), state: 'open', ...about },
      {
        type: 'report',
        id: randomUUID(),
        kind: 'crash',
        occurredAt: at(3_200),
        sessionId,
        exceptions: [{ type: 'java.lang.IllegalStateException', message: 'no perch at all' }],
        trail: [
          { kind: 'screen', at: at(900), name: 'hide' },
          { kind: 'tap', at: at(2_500), target: 'look' },
        ],
        ...about,
      },
    ];
    expect((await sendItems(server.intakeKey, items)).items).toMatchObject([{ outcome: 'accepted' }, { outcome: 'accepted' }]);
    const counted = async () => {
      const asked = await page.request.get(`/api/v1${guide}/crash-free?version=0.63.0`);
      return ((await asked.json()) as { total: { sessions: number; crashed: number; crashedAtStart: number } }).total;
    };
    await expect.poll(counted).toMatchObject({ sessions: 1, crashed: 1, crashedAtStart: 1 });

    await open('sessions?version=0.63.0&end=crashed-at-start');
    await page.getByText('crashed after 3 s').waitFor();
    await stage.visitor.expectAccessible();
    await page.getByRole('rowheader').getByRole('link').first().click();
    await page.waitForURL(/\/sessions\//);
    await stage.visitor.hydrated();
    const moments = page.getByRole('list', { name: 'What happened' });
    await moments.getByText('+0:02.5').waitFor();
    expect((await moments.getByRole('listitem').allTextContents()).map((text) => text.slice(0, 7))).toEqual(
      expect.arrayContaining(['+0:00.0', '+0:00.9', '+0:02.5', '+0:03.2']),
    );
    await moments.getByRole('link', { name: /no perch at all/ }).waitFor();
    await stage.visitor.expectAccessible();
  });

  it('obeys its sentence, keeps it in the address, and says when there is nothing', async () => {
    const { page } = stage.visitor;
    await open('crash-free');
    await page.getByRole('button', { name: 'crash', exact: true }).click();
    await page.getByRole('menuitemcheckbox', { name: 'Hangs count against a session' }).click();
    await page.waitForURL(/count=hangs/);
    await page.getByRole('heading', { name: 'Sessions without a crash or hang' }).waitFor();
    await page.keyboard.press('Escape');
    await page.getByRole('region', { name: 'Sessions by two fields' }).getByRole('button', { name: 'device' }).click();
    await page.getByRole('menuitem', { name: 'flag night-map' }).click();
    await page.waitForURL(/down=flags\.night-map/);
    await page.getByRole('rowheader', { name: /^on/ }).waitFor();
    await page.goBack();
    await page.getByRole('rowheader', { name: /Tarn Go 3/ }).waitFor();
    await open('crash-free?version=0.0.1');
    await page.getByText('No session lies in this scope').waitFor();
    await stage.visitor.expectAccessible();
  });
});
