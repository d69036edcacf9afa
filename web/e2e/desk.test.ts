import { randomUUID } from 'node:crypto';
import { describe, expect, it } from 'vitest';
import { casesOf, eventually } from './testing/owner.ts';
import { server } from './testing/server.ts';
import { setStage } from './testing/stage.ts';

/** What a report of these journeys tells; everything else is the same for all. */
interface Told {
  readonly version: string;
  readonly where: string;
  readonly caller?: string;
  readonly person: string;
  readonly model?: string;
  readonly flag?: string;
  readonly attributes?: Readonly<Record<string, string | readonly string[]>>;
}

const hourMs = 3_600_000;
let sent = 0;
const sentOf = new Map<string, number>();

/** Sends reports and waits until all of them are in their cases: a list whose order still changes is not clicked on. */
async function send(...reports: readonly Told[]): Promise<void> {
  const frame = (name: string) => `\tat com.larkfield.guide.${name}(${name.split('.')[0]}.java:7)`;
  const lines = reports.map(({ version, where, caller = 'Hide.open', person, model = 'Brill 6a', flag = 'off', attributes = {} }) => {
    const at = Date.now() - ++sent * 1000 - hourMs;
    const stack = ['java.lang.IllegalStateException: state', frame(where), frame('Hide.look'), frame('Hide.sit'), frame(caller)].join('\n');
    return JSON.stringify({
      type: 'report',
      id: randomUUID(),
      kind: 'crash',
      occurredAt: new Date(at).toISOString(),
      version,
      build: '1',
      personId: person,
      device: { model },
      os: { name: 'Android', version: '14' },
      flags: { 'quick-look': flag },
      attributes,
      exceptions: [{ type: 'java.lang.IllegalStateException', message: `no perch ${sent}`, stack }],
      trail: [
        { kind: 'screen', at: new Date(at - 9_000).toISOString(), name: 'hide' },
        { kind: 'tap', at: new Date(at - 4_000).toISOString(), target: 'look' },
      ],
    });
  });
  const answer = await fetch(`${server.address}/intake/v1/batch`, {
    method: 'POST',
    headers: { authorization: `Bearer ${server.intakeKey}` },
    body: lines.join('\n'),
  });
  expect(answer.status).toBe(202);
  for (const { version } of reports) sentOf.set(version, (sentOf.get(version) ?? 0) + 1);
  for (const version of new Set(reports.map((report) => report.version))) {
    const inCases = async () => (await casesOf(version)).reduce((sum, { reports }) => sum + reports, 0);
    expect(await eventually(inCases, (count) => count === sentOf.get(version))).toBe(sentOf.get(version));
  }
}

const stage = setStage((visitor) => visitor.enter());

const row = (where: string) => stage.visitor.page.locator('[data-case]', { hasText: where });
const open = async (path: string) => {
  await stage.visitor.open(`/apps/larkfield-guide/${path}`);
  await stage.visitor.hydrated();
};
const people = (count: number, told: (at: number) => Omit<Told, 'person'>): Told[] =>
  Array.from({ length: count }, (_, at) => ({ person: `watcher-${randomUUID()}`, ...told(at) }));

describe('the scope', () => {
  it('is written as text with completion by keyboard, and a mistake is pointed at', async () => {
    await send(...people(4, (at) => ({ version: '0.70.0', where: 'Reed.sway', flag: at < 3 ? 'on' : 'off' })));
    await open('cases?version=0.70.0');
    await row('Reed.sway').getByText('4 reports').waitFor();
    const { page } = stage.visitor;
    await page.keyboard.press('/');
    const text = page.getByRole('combobox', { name: 'Filter' });
    await text.pressSequentially('flags.quick');
    await page.getByRole('option', { name: /quick-look/ }).waitFor();
    await stage.visitor.expectAccessible();
    await page.keyboard.press('Tab');
    await text.pressSequentially('= ');
    await page.getByRole('option', { name: /^on 3 reports/ }).waitFor();
    await page.keyboard.press('ArrowDown');
    await page.keyboard.press('Enter');
    await expect.poll(() => text.inputValue()).toBe('flags.quick-look = on ');
    await text.pressSequentially('AND colour = red');
    await page.keyboard.press('Enter');
    await page.getByText('there is no field "colour"').waitFor();
    await text.fill('flags.quick-look = on');
    await page.keyboard.press('Enter');
    await page.getByRole('button', { name: 'flag quick-look is on' }).waitFor();
    await row('Reed.sway').getByText('3 reports').waitFor();
    expect(new URL(page.url()).searchParams.get('filter')).toBe('flags.quick-look = on');
    await page.goBack();
    await row('Reed.sway').getByText('4 reports').waitFor();
  });

  it('takes any value that is clicked, in or out, and is kept as a view', async () => {
    await send(...people(5, (at) => ({ version: '0.71.0', where: 'Sedge.bend', model: at < 2 ? 'Tarn Go 3' : 'Brill 6a' })));
    await open('cases?version=0.71.0');
    const { page } = stage.visitor;
    const device = stage.visitor.evidence().getByRole('region', { name: 'device' });
    await device.getByRole('button', { name: 'Tarn Go 3' }).click();
    await stage.visitor.expectAccessible();
    await page.getByRole('menuitem', { name: 'Only reports without this' }).click();
    await page.getByRole('button', { name: 'not device is Tarn Go 3' }).waitFor();
    await row('Sedge.bend').getByText('3 reports').waitFor();
    await page.getByRole('button', { name: 'not device is Tarn Go 3' }).click();
    await page.getByRole('menuitem', { name: 'Say the opposite' }).click();
    await row('Sedge.bend').getByText('2 reports').waitFor();

    await page.getByRole('button', { name: 'Views ▾' }).click();
    await page.getByRole('menuitem', { name: 'Keep this scope as a view …' }).click();
    await page.getByLabel('Name of the view').fill('sedge on small phones');
    await page.getByLabel('for the team').check();
    await stage.visitor.expectAccessible();
    await page.getByRole('button', { name: 'Keep', exact: true }).click();
    await page.getByRole('button', { name: 'sedge on small phones ▾' }).waitFor();
    await open('symbols');
    await page.keyboard.press('Control+k');
    await page.getByLabel('Go to').fill('sedge on');
    await page.getByRole('button', { name: /^sedge on small phones/ }).click();
    await page.waitForURL(/version=0\.71\.0/);
    await row('Sedge.bend').getByText('2 reports').waitFor();
  });

  it('gains an attribute that is pointed at, for the reports of before too', async () => {
    await send(
      ...people(3, (at) => ({
        version: '0.72.0',
        where: 'Moss.grow',
        attributes: { 'hide name': at === 0 ? 'north' : 'south', layers: ['a', 'b'] },
      })),
    );
    await open('cases?version=0.72.0');
    const { page } = stage.visitor;
    const state = stage.visitor.evidence().locator('#state');
    const asked = state.locator('div', { has: page.getByText('hide name', { exact: true }) }).last();
    await asked.hover();
    await asked.getByRole('button', { name: 'filter by it' }).click();
    await asked.getByRole('button', { name: /north|south/ }).waitFor();
    await asked.getByRole('button', { name: /north|south/ }).click();
    await page.getByRole('menuitem', { name: 'Only reports with this' }).click();
    await row('Moss.grow')
      .getByText(/^[12] reports?$/)
      .waitFor();
    await open('desk');
    await page
      .getByRole('row', { name: /hide name/ })
      .getByText('2', { exact: true })
      .waitFor();
    await stage.visitor.expectAccessible();
    await page
      .getByRole('row', { name: /hide name/ })
      .getByRole('button', { name: 'Give up' })
      .click();
    await page.getByRole('row', { name: /hide name/ }).waitFor({ state: 'detached' });
  });
});

describe('the list', () => {
  it('has the columns that somebody wants, and keeps them for them', async () => {
    const { page } = stage.visitor;
    await open('cases?last=90d');
    await stage.visitor.cases().first().getByText('people').waitFor();
    await page.getByRole('button', { name: 'columns' }).click();
    await page.getByRole('menuitemcheckbox', { name: 'People' }).click();
    await page.getByRole('menuitemcheckbox', { name: 'Message' }).click();
    await page.waitForFunction(() => !document.querySelector('[data-case]')?.textContent?.includes('people'));
    await page.reload();
    await stage.visitor.hydrated();
    await stage.visitor.cases().first().waitFor();
    expect(await stage.visitor.cases().first().getByText('people').count()).toBe(0);
    await page.getByRole('button', { name: 'columns' }).click();
    await page.getByRole('menuitemcheckbox', { name: 'People' }).click();
    // Who leaves before it is kept finds the columns as they were, and so would the journeys after this one.
    const kept = page.waitForResponse(
      (answer) => answer.url().endsWith('/account/desk-columns') && answer.request().postDataJSON().columns.includes('message'),
    );
    await page.getByRole('menuitemcheckbox', { name: 'Message' }).click();
    await stage.visitor.cases().first().getByText('people').waitFor();
    await kept;
  });

  it('is ordered by how often something happens in 1,000 sessions', async () => {
    await open('cases?last=90d');
    await stage.visitor.page.getByRole('button', { name: 'most reports first' }).click();
    await stage.visitor.page.getByRole('menuitem', { name: 'Most per 1,000 sessions first' }).click();
    await stage.visitor.page.waitForURL(/order=rate/);
    await stage.visitor.cases().first().getByText('/ 1,000').waitFor();
    const rates = async () =>
      (await stage.visitor.cases().getByText('/ 1,000').locator('..').allTextContents()).map((text) =>
        Number.parseFloat(text.replace(',', '')),
      );
    await expect.poll(async () => (await rates()).every((rate, at, all) => at === 0 || rate <= (all[at - 1] as number))).toBe(true);
  });
});

describe('a case', () => {
  it('shows the lines of its source where it broke', async () => {
    // Of one version: once the mapping of 4.3.1 was uploaded, the newest report of the case is of another source.
    await open('cases?last=90d&version=4.3.0');
    await stage.visitor.choose(row('NightMap.tileFor').first());
    await stage.visitor.evidence().getByText('String tile = Require.present(cache.peek(key(zoom, x, y)), "tile");').waitFor();
    await stage.visitor.expectAccessible();
  });

  it('shows rollouts and changes of flags on its chart as they are recorded', async () => {
    const { page } = stage.visitor;
    await send({ version: '0.76.0', where: 'Reed.bend', person: 'warbler' });
    const record = (what: string, data: object) =>
      page.request.post(`/api/v1/apps/larkfield-guide/${what}`, { data, headers: { origin: server.address } });
    const at = new Date(Date.now() - 2 * 86_400_000).toISOString();
    expect((await record('rollouts', { version: '0.76.0', percent: 12.5, at })).status()).toBe(201);
    expect((await record('rollouts', { version: '0.76.0' })).status()).toBe(400);
    expect((await record('flag-changes', { flag: 'quick-look', percent: 40 })).status()).toBe(201);
    await open('cases?version=0.76.0');
    await stage.visitor.choose(row('Reed.bend'));
    await stage.visitor.evidence().locator('#when').scrollIntoViewIfNeeded();
    const changed = stage.visitor.evidence().getByRole('list', { name: 'What was changed meanwhile' });
    await changed.getByText('0.76.0 to 12.5 %').waitFor();
    await changed.getByText('flag quick-look on for 40 %').waitFor();
  });

  it('says whom it hits, when, and what came before, with what stands out', async () => {
    await send(
      ...people(30, () => ({ version: '0.73.0', where: 'Heath.burn', model: 'Tarn Go 3', flag: 'on' })),
      ...people(40, (at) => ({ version: '0.73.0', where: 'Marsh.flood', model: `Brill ${at % 4}`, flag: at % 5 === 0 ? 'on' : 'off' })),
    );
    await open('cases?version=0.73.0');
    await stage.visitor.choose(row('Heath.burn'));
    const evidence = stage.visitor.evidence();
    await evidence.getByRole('rowheader', { name: 'device Tarn Go 3' }).waitFor();
    await evidence.getByRole('rowheader', { name: 'flag quick-look on' }).waitFor();
    await evidence.getByText('In 100 % of 30 reports').waitFor();
    await evidence.locator('#when').scrollIntoViewIfNeeded();
    await evidence.getByText('Reports per day by').waitFor();
    await evidence.locator('#when svg').first().waitFor();
    await stage.visitor.expectAccessible();
  });

  it('is compared with another report of it, and its parts are taken out, merged and brought back', async () => {
    const { page } = stage.visitor;
    await send(
      ...people(3, () => ({ version: '0.74.0', where: 'Dune.drift', caller: 'Dune.morning' })),
      ...people(2, () => ({ version: '0.74.0', where: 'Dune.drift', caller: 'Dune.evening' })),
    );
    await open('cases?version=0.74.0');
    await row('Dune.drift').getByText('5 reports').waitFor();
    await stage.visitor
      .evidence()
      .getByRole('button', { name: /report 1 of 5/ })
      .click();
    await page.getByRole('menuitem', { name: 'Compare with another …' }).click();
    await page.waitForURL(/compare/);
    await stage.visitor.hydrated();
    await page.getByText('they came the same way').waitFor();
    for (let step = 0; step < 2; step++) {
      await page.keyboard.press(']');
      await page.waitForURL(new RegExp(`right=${step + 2}`));
      await stage.visitor.hydrated();
    }
    await stage.visitor.expectAccessible();
    await page.keyboard.press(']');
    await page.waitForURL(/right=4/);
    await page.getByText('they came different ways').waitFor();

    await open('cases?version=0.74.0');
    const why = stage.visitor.evidence().locator('#why');
    await why.getByRole('listitem').filter({ hasText: '2 reports' }).getByRole('button', { name: 'Take out as a case' }).click();
    await row('Dune.drift').nth(1).waitFor();
    await stage.visitor.choose(row('Dune.drift').filter({ hasText: '2 reports' }));
    await why.getByRole('listitem').filter({ hasText: 'Dune.drift' }).getByRole('button', { name: 'Merge into this one' }).click();
    await row('Dune.drift').filter({ hasText: '5 reports' }).waitFor();
    const talk = stage.visitor.evidence().locator('#talk');
    await talk.getByText(/merged number \d+ into it/).waitFor();
    await talk.getByRole('button', { name: 'Undo' }).click();
    await row('Dune.drift').filter({ hasText: '3 reports' }).waitFor();
  });

  it('is merged with others from the list, without a mouse', async () => {
    const { page } = stage.visitor;
    await send(
      ...people(3, () => ({ version: '0.78.0', where: 'Cove.rest' })),
      ...people(2, () => ({ version: '0.78.0', where: 'Cove.land' })),
      ...people(1, () => ({ version: '0.78.0', where: 'Cove.leave' })),
    );
    await open('cases?version=0.78.0');
    await row('Cove.rest').getByText('3 reports').waitFor();
    await row('Cove.leave').waitFor();
    // The first case is selected as the page comes.
    for (const key of ['x', 'j', 'x', 'j', 'x']) await page.keyboard.press(key);
    await page.getByRole('region', { name: 'Marked cases' }).getByText('3 cases marked').waitFor();
    await stage.visitor.expectAccessible();
    await page.keyboard.press('g');
    await page.getByText(/Make 3 cases one, LG-\d+\?/).waitFor();
    await page.waitForFunction(() => document.activeElement?.textContent === 'Do it');
    await page.keyboard.press('Enter');
    await row('Cove.rest').getByText('6 reports').waitFor();
    await row('Cove.land').waitFor({ state: 'detached' });
  });

  it('is copied for others, and talked about in Markdown', async () => {
    const { page } = stage.visitor;
    await page.context().grantPermissions(['clipboard-read', 'clipboard-write']);
    await send({ version: '0.75.0', where: 'Crag.fall', person: 'climber' });
    await open('cases?version=0.75.0');
    await row('Crag.fall').waitFor();
    await stage.visitor.evidence().getByRole('button', { name: 'Copy ▾' }).click();
    await page.getByRole('menuitem', { name: 'Case as Markdown' }).click();
    await stage.visitor.evidence().getByRole('button', { name: 'Copied' }).waitFor();
    const copied = await page.evaluate(() => navigator.clipboard.readText());
    expect(copied).toContain('IllegalStateException in Crag.fall');
    expect(copied).toContain('at com.larkfield.guide.Crag.fall(Crag.java:7)');
    expect(copied).toContain('### Before');
    const talk = stage.visitor.evidence().locator('#talk');
    await talk.scrollIntoViewIfNeeded();
    await talk.getByLabel('Note').fill('**cured** by https://git.larkfield.example/commit/4f2a, says @ines');
    await talk.getByRole('button', { name: 'Keep the note' }).click();
    await talk.getByRole('link', { name: 'https://git.larkfield.example/commit/4f2a' }).waitFor();
    expect(await talk.locator('strong').textContent()).toBe('cured');
    await talk.locator('b', { hasText: '@ines' }).waitFor();
  });
});

describe('the rules of an app', () => {
  it('are made by pointing at a frame, previewed, applied and taken back', async () => {
    const { page } = stage.visitor;
    await send(
      ...people(2, () => ({ version: '0.76.0', where: 'Otter.dive' })),
      ...people(3, () => ({ version: '0.76.0', where: 'Otter.swim' })),
    );
    await open('cases?version=0.76.0');
    // A newer report would take the place of the one that is pointed at.
    await row('Otter.swim').getByText('3 reports').waitFor();
    await stage.visitor.choose(row('Otter.swim'));
    await stage.visitor
      .evidence()
      .getByRole('heading', { name: /Otter\.swim/ })
      .waitFor();
    const frame = stage.visitor.evidence().locator('#where').getByRole('listitem').filter({ hasText: 'Otter.swim' }).first();
    await frame.hover();
    await frame.getByRole('button', { name: /Do something with/ }).click();
    await page.getByRole('menuitem', { name: 'Rule: this never decides' }).click();
    await page.waitForURL(/grouping/);
    await stage.visitor.hydrated();
    const rules = page.getByLabel('Rules, one a line');
    await expect.poll(() => rules.inputValue()).toBe('skip function com.larkfield.guide.Otter.swim');
    await rules.fill('skip wings com.larkfield.guide.Otter.*');
    await page.getByText('Line 1: "wings" cannot be asked here').waitFor();
    await rules.fill('skip function com.larkfield.guide.Otter.*');
    await page.getByRole('button', { name: 'Preview on what is there' }).click();
    const preview = page.getByRole('region', { name: 'Preview' });
    await preview.getByText('1 case would be made of several').waitFor();
    await stage.visitor.expectAccessible();
    await page.getByRole('button', { name: 'Apply' }).click();
    await page.getByText('which moved 2 reports').waitFor();
    await open('cases?version=0.76.0');
    await stage.visitor.cases().filter({ hasText: '5 reports' }).waitFor();
    await open('grouping');
    await page.getByRole('button', { name: 'Back to no rules' }).click();
    await page.getByText('has no rules of its own').waitFor();
    // An app goes on with the algorithm it has; what today's would do is seen first.
    await rules.fill('algorithm 1');
    await page.getByRole('button', { name: 'Preview on what is there' }).click();
    await page.getByRole('button', { name: 'Apply' }).click();
    await page.getByRole('button', { name: 'Preview algorithm 2' }).click();
    await expect.poll(() => rules.inputValue()).toBe('algorithm 2');
    await preview.getByText(/No case would merge or split|would be made of several/).waitFor();
    await stage.visitor.expectAccessible();
    await page.getByRole('button', { name: 'Apply' }).click();
    await page.getByText('by algorithm 2').waitFor();
    await open('cases?version=0.76.0');
    await row('Otter.dive').getByText('2 reports').waitFor();
    await row('Otter.swim').getByText('3 reports').waitFor();
  });
});

describe('a person', () => {
  it('is found by the id that support has, with what happened to them, and can be forgotten', async () => {
    const { page } = stage.visitor;
    await send({ version: '0.77.0', where: 'Wren.sing', person: 'maud-77' }, { version: '0.77.1', where: 'Wren.sing', person: 'maud-77' });
    await open('cases?version=0.77.0');
    await row('Wren.sing').waitFor();
    await page.keyboard.press('Control+k');
    await page.getByLabel('Go to').fill('maud-77');
    await page.getByRole('button', { name: 'Person “maud-77”' }).click();
    await page.waitForURL(/person/);
    await stage.visitor.hydrated();
    await page.getByText('2 reports').waitFor();
    await stage.visitor.expectAccessible();
    await page
      .getByRole('link', { name: /Wren\.sing/ })
      .last()
      .click();
    await page.waitForURL(/report=1/);
    await page.goBack();
    await stage.visitor.hydrated();
    await page.getByRole('button', { name: 'Forget this person …' }).click();
    await page.getByRole('button', { name: 'Forget maud-77' }).click();
    await page.getByText('Nothing of Larkfield Guide came from').waitFor();
    await open('cases?version=0.77.0');
    await page.getByText('No report lies in this scope').waitFor();
  });
});
