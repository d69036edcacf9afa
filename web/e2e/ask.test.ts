import { join } from 'node:path';
import { wordValue } from '@rough-ember/core/ask/answer-words';
import { type CountName, type CrashFreeName, counts, crashFree, type Measure } from '@rough-ember/core/ask/measures';
import type { FieldName } from '@rough-ember/core/fields/fields';
import { wordField } from '@rough-ember/core/fields/fields';
import mysql from 'mysql2/promise';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startMariadb } from '../../scripts/mariadb.ts';
import { server } from './testing/server.ts';
import { setStage } from './testing/stage.ts';

let database: mysql.Connection;
beforeAll(async () => {
  // It runs already; this tells where.
  const { url } = await startMariadb({ folder: join(server.folder, 'mariadb'), port: 0 });
  database = await mysql.createConnection(url);
});
afterAll(() => database.end());

const stage = setStage((visitor) => visitor.enter());
const ask = '/apps/larkfield-guide/ask';

/** What somebody wants to know, how they click it together, and what the database itself says. */
interface Wanted {
  readonly words: string;
  readonly count?: CountName;
  readonly per?: CountName;
  readonly free?: CrashFreeName;
  readonly by?: readonly FieldName[];
  /** Address parameters of the scope they came with. */
  readonly scope?: string;
  /** One row for each value: the values, how many, of how many. */
  readonly sql: string;
}

const guide = "app_id = (SELECT id FROM apps WHERE slug = 'larkfield-guide')";
const days = (count: number) => `>= UTC_DATE() - INTERVAL ${count - 1} DAY`;
const bad = "kind IN ('crash', 'hang', 'kill')";
const reports = (what: string, { by = '', where = bad, since = days(30), more = 'excluded = 0' } = {}) =>
  `SELECT ${by === '' ? '' : `${by}, `}${what} FROM reports WHERE ${guide} AND occurred_at ${since} AND ${more} AND ${where}${by === '' ? '' : ` GROUP BY ${by}`}`;
const sessions = (what: string, { by = '', since = days(30), more = 'excluded = 0', where = '1' } = {}) =>
  `SELECT ${by === '' ? '' : `${by}, `}${what} FROM sessions WHERE ${guide} AND started AND day ${since} AND ${more} AND ${where}${by === '' ? '' : ` GROUP BY ${by}`}`;
const whoCrashed = "COUNT(DISTINCT IF(state = 'crashed', person_key, NULL))";
/** Reports against sessions, by the values of a column that both tables have; values that no session has are gathered. */
function against(count: string, per: string, by: string): string {
  const ofSessions = sessions(`${per} AS per`, { by });
  const ofReports = reports(`${count} AS own`, { by });
  return `SELECT s.${by}, COALESCE(own, 0), per FROM (${ofSessions}) s LEFT JOIN (${ofReports}) r ON r.${by} <=> s.${by}
    UNION SELECT IF(r.${by} IS NULL, NULL, CONCAT(COUNT(*), ' others')), 1, 0 FROM (${ofReports}) r
      LEFT JOIN (${ofSessions}) s ON r.${by} <=> s.${by} WHERE per IS NULL GROUP BY r.${by} IS NULL`;
}

const thirty: readonly Wanted[] = [
  { words: 'How many people were hit?', count: 'affected people', sql: reports('COUNT(DISTINCT person_key)') },
  {
    words: 'What kinds of trouble are there?',
    count: 'reports',
    by: ['kind'],
    scope: 'kind=crash,hang,kill,error',
    sql: reports('SUM(weight)', { by: 'kind', where: '1' }),
  },
  {
    words: 'Which version crashes most often?',
    count: 'reports',
    by: ['version'],
    scope: 'kind=crash',
    sql: reports('SUM(weight)', { by: 'version', where: "kind = 'crash'" }),
  },
  {
    words: 'On which devices are people hit?',
    count: 'affected people',
    by: ['device.model'],
    sql: reports('COUNT(DISTINCT person_key)', { by: 'device_model' }),
  },
  {
    words: 'In which countries?',
    count: 'affected people',
    by: ['country'],
    sql: reports('COUNT(DISTINCT person_key)', { by: 'country' }),
  },
  {
    words: 'How many different things are wrong with each version?',
    count: 'cases',
    by: ['version'],
    sql: reports('COUNT(DISTINCT case_id)', { by: 'version' }),
  },
  { words: 'How much is each version used?', count: 'sessions', by: ['version'], sql: sessions('COUNT(*)', { by: 'version' }) },
  {
    words: 'How many people use each version?',
    count: 'people',
    by: ['version'],
    sql: sessions('COUNT(DISTINCT person_key)', { by: 'version' }),
  },
  { words: 'How many people use the app at all?', count: 'people', sql: sessions('COUNT(DISTINCT person_key)') },
  {
    words: 'How often does a session crash, by version?',
    count: 'crashed sessions',
    per: 'sessions',
    by: ['version'],
    sql: sessions("SUM(state = 'crashed'), COUNT(*)", { by: 'version' }),
  },
  {
    words: 'What share of sessions is fine?',
    free: 'crash-free sessions',
    by: ['version'],
    sql: sessions("SUM(state = 'crashed'), COUNT(*)", { by: 'version' }),
  },
  { words: 'What share of people is fine?', free: 'crash-free people', sql: sessions(`${whoCrashed}, COUNT(DISTINCT person_key)`) },
  {
    words: 'Where do errors come that we handle?',
    count: 'sessions with errors',
    per: 'sessions',
    by: ['os.version'],
    sql: sessions('SUM(errors > 0), COUNT(*)', { by: 'os_version' }),
  },
  {
    words: 'Does little memory get us killed?',
    count: 'killed sessions',
    by: ['device.memory'],
    sql: sessions("SUM(state = 'killed')", { by: 'memory_class' }),
  },
  { words: 'How often does the app hang?', count: 'hung sessions', per: 'sessions', sql: sessions("SUM(state = 'hung'), COUNT(*)") },
  {
    words: 'Who crashes at the start?',
    count: 'sessions crashed at start',
    by: ['version'],
    sql: sessions("SUM(state = 'crashed' AND crashed_at >= started_at AND crashed_at < started_at + INTERVAL 5 SECOND)", { by: 'version' }),
  },
  {
    words: 'Which networks do people have?',
    count: 'people',
    by: ['carrier'],
    sql: sessions('COUNT(DISTINCT person_key)', { by: 'carrier' }),
  },
  {
    words: 'How many people are new?',
    count: 'new people',
    sql: `SELECT COUNT(DISTINCT s.person_key) FROM sessions s WHERE ${guide} AND started AND excluded = 0 AND day ${days(30)} AND NOT EXISTS (SELECT 1 FROM sessions e WHERE e.app_id = s.app_id AND e.started AND e.person_key = s.person_key AND e.day < UTC_DATE() - INTERVAL 29 DAY)`,
  },
  {
    words: 'Which device makes most trouble for how much it is used?',
    count: 'reports',
    per: 'sessions',
    by: ['device.model'],
    sql: against('SUM(weight)', 'COUNT(*)', 'device_model'),
  },
  {
    words: 'Where are most people hit, of those who are there?',
    count: 'affected people',
    per: 'people',
    by: ['country'],
    sql: against('COUNT(DISTINCT person_key)', 'COUNT(DISTINCT person_key)', 'country'),
  },
  {
    words: 'How often do people open each version?',
    count: 'sessions',
    per: 'people',
    by: ['version'],
    sql: sessions('COUNT(*), COUNT(DISTINCT person_key)', { by: 'version' }),
  },
  {
    words: 'What goes wrong in which version?',
    count: 'reports',
    by: ['version', 'kind'],
    scope: 'kind=crash,hang,kill,error',
    sql: reports('SUM(weight)', { by: 'version, kind', where: '1' }),
  },
  {
    words: 'Is it the device or the system?',
    count: 'crashed sessions',
    by: ['device.model', 'os.version'],
    sql: sessions("SUM(state = 'crashed')", { by: 'device_model, os_version' }),
  },
  {
    words: 'Which carriers are there in which country?',
    count: 'sessions',
    by: ['country', 'carrier'],
    sql: sessions('COUNT(*)', { by: 'country, carrier' }),
  },
  {
    words: 'What do testers run into?',
    count: 'reports',
    by: ['build.type'],
    scope: 'builds=any&last=all',
    sql: reports('SUM(weight)', { by: 'build_type', since: 'IS NOT NULL', more: '1' }),
  },
  {
    words: 'Whom does 4.2.0 hit?',
    count: 'affected people',
    by: ['device.model'],
    scope: 'version=4.2.0',
    sql: reports('COUNT(DISTINCT person_key)', { by: 'device_model', where: `${bad} AND version = '4.2.0'` }),
  },
  {
    words: 'What was there ever?',
    count: 'reports',
    by: ['kind'],
    scope: 'last=all&kind=crash,hang,kill,error',
    sql: reports('SUM(weight)', { by: 'kind', where: '1', since: 'IS NOT NULL' }),
  },
  {
    words: 'How much was each version used this week?',
    count: 'sessions',
    by: ['version'],
    scope: 'last=7d',
    sql: sessions('COUNT(*)', { by: 'version', since: days(7) }),
  },
  {
    words: 'Whom do handled errors bother?',
    count: 'affected people',
    by: ['os.version'],
    scope: 'kind=error',
    sql: reports('COUNT(DISTINCT person_key)', { by: 'os_version', where: "kind = 'error'" }),
  },
  {
    words: 'Which people crash, on what?',
    count: 'people with a crash',
    by: ['device.model'],
    sql: sessions(whoCrashed, { by: 'device_model' }),
  },
];

const question = () => stage.visitor.page.getByRole('region', { name: 'Question' });

/** Opens the menu of a word, and takes what says so. */
async function take(word: ReturnType<typeof question>, says: string): Promise<void> {
  await word.click();
  const { page } = stage.visitor;
  await page
    .getByRole('menuitem')
    .filter({ has: page.getByText(says, { exact: true }) })
    .click();
}

/** Clicks the words of a question together. */
async function click({ count, per, free, by = [] }: Wanted): Promise<void> {
  const words = question();
  await words.getByRole('button', { name: 'version', exact: true }).click();
  await stage.visitor.page.getByRole('menuitem', { name: 'Take it out' }).click();
  const says = free ? crashFree[free].says : counts[count as CountName].says;
  if (says !== counts['affected people'].says) await take(words.getByRole('button', { name: 'Affected people' }), says);
  if (per) {
    await words.getByRole('button', { name: 'in all' }).click();
    await stage.visitor.page.getByRole('menuitem', { name: `For 1,000 ${per}`, exact: true }).click();
  }
  for (const field of by) {
    await words.getByRole('button', { name: 'Divide by a field' }).click();
    const { page } = stage.visitor;
    const called = wordField(field, null);
    await page
      .getByRole('menuitem', { name: new RegExp(`^${called} `) })
      .first()
      .click();
    await words.getByRole('button', { name: called, exact: true }).waitFor();
  }
}

/** The table of the answer: for each row its names and its value. */
async function shown(columns: number): Promise<Record<string, string>> {
  const { page } = stage.visitor;
  const all = page.getByRole('button', { name: /^show all / });
  if ((await all.count()) > 0) await all.click();
  const rows = await page
    .getByRole('region', { name: 'Answer' })
    .locator('table')
    .last()
    .locator('tbody tr')
    .evaluateAll((lines) => lines.map((line) => [...line.children].map((cell) => cell.textContent ?? '')));
  return Object.fromEntries(rows.map((cells) => [cells.slice(0, Math.max(1, columns)).join(' | '), cells[Math.max(1, columns)] as string]));
}

const measureOf = ({ count, per, free }: Wanted): Measure =>
  free
    ? { kind: 'crash-free', name: free }
    : per
      ? { kind: 'rate', count: count as CountName, per }
      : { kind: 'count', count: count as CountName };

/** What the database says, in the words of the screen. */
async function truth(wanted: Wanted): Promise<Record<string, string>> {
  const columns = wanted.by?.length ?? 0;
  const [rows] = await database.query<mysql.RowDataPacket[]>({ sql: wanted.sql, rowsAsArray: true });
  const measure = measureOf(wanted);
  const told = (rows as unknown as (string | number | null)[][]).flatMap((row) => {
    const names = row
      .slice(0, columns)
      .map((name, at) => (name === null ? `${wordField((wanted.by as FieldName[])[at] as FieldName, null)} not told` : String(name)));
    const [count = 0, per = 0] = row.slice(columns).map((one) => Math.round(Number(one ?? 0)));
    const value =
      measure.kind === 'count' ? count : per === 0 ? null : measure.kind === 'rate' ? (1_000 * count) / per : 100 * (1 - count / per);
    return [[columns === 0 ? 'all' : names.join(' | '), wordValue(measure, value), count] as const];
  });
  // What nothing was counted of has no row, unless sessions tell that there could have been something.
  const isOfSessions = wanted.free !== undefined || counts[wanted.count as CountName].from === 'sessions';
  return Object.fromEntries(
    told.filter(([, , count]) => count > 0 || isOfSessions || wanted.per !== undefined).map(([name, value]) => [name, value]),
  );
}

describe('thirty questions, clicked together by somebody who knows no code', () => {
  it.each(thirty)('$words', async (wanted) => {
    await stage.visitor.open(`${ask}${wanted.scope ? `?${wanted.scope}` : ''}`);
    await stage.visitor.hydrated();
    await click(wanted);
    const expected = await truth(wanted);
    expect(Object.keys(expected).length).toBeGreaterThan(0);
    await expect.poll(() => shown(wanted.by?.length ?? 0)).toEqual(expected);
  });
});

describe('an answer', () => {
  const open = async (text: string, scope = '') => {
    await stage.visitor.open(`${ask}?${scope}&question=${encodeURIComponent(text)}`);
    await stage.visitor.hydrated();
  };

  it('is drawn as each kind of chart, accessible in both schemes', async () => {
    const { page } = stage.visitor;
    for (const text of [
      'reports by version per week as lines',
      'reports by version per week as stacked bars',
      'sessions by device.model as ring',
      'people with a crash per people by country as map',
      'crashed sessions per sessions by device.model, version as matrix',
      'crash-free sessions by version as before and after',
      'reports by os.version, kind as shares',
      'crash-free sessions per day as number',
    ]) {
      await open(text, 'kind=crash,hang,kill,error');
      await page.getByRole('region', { name: 'Answer' }).locator('[data-drawing] svg, ul, table').first().waitFor();
      await stage.visitor.expectAccessibleInBothSchemes();
    }
  });

  it('is clicked into the scope and out of it, and opens the cases behind a part', async () => {
    const { page } = stage.visitor;
    await open('reports by version, device.model as matrix');
    const table = page.getByRole('region', { name: 'Answer' }).locator('table').last();
    const first = table.locator('tbody tr').first();
    const device = (await first.locator('th').nth(1).textContent()) as string;
    const version = (await first.locator('th').first().textContent()) as string;
    await first.locator('th').first().getByRole('button').click();
    expect(await page.getByRole('menuitem', { name: 'The cases of it' }).getAttribute('href')).toContain(`version=${version}`);
    await page.getByRole('menuitem', { name: 'Only this' }).click();
    await page.getByRole('button', { name: `device is ${device}` }).waitFor();
    expect(new URL(page.url()).searchParams.get('version')).toBe(version);
    await page.goBack();
    await page.getByRole('button', { name: `device is ${device}` }).waitFor({ state: 'detached' });
  });

  it('is asked for in writing, and what is not understood is said', async () => {
    const { page } = stage.visitor;
    await open('reports by version');
    await question().getByRole('button', { name: 'write it …' }).click();
    const text = page.getByRole('textbox', { name: 'Question' });
    await text.fill('reports by colour');
    await page.keyboard.press('Enter');
    await page.getByText('"colour" is no field to divide by').waitFor();
    await stage.visitor.expectAccessible();
    await text.fill('reports by os.version per day');
    await page.keyboard.press('Enter');
    await question().getByRole('button', { name: 'system version' }).waitFor();
    expect(new URL(page.url()).searchParams.get('question')).toBe('reports by os.version per day');
  });

  it('is saved as a picture, as points and as lines', async () => {
    const { page } = stage.visitor;
    await open('reports by version per week as lines');
    await page.locator('[data-drawing] .recharts-line path').first().waitFor();
    const save = async (what: string) => {
      await page.getByRole('button', { name: 'Save as ▾' }).click();
      const download = page.waitForEvent('download');
      await page.getByRole('menuitem', { name: what }).click();
      const stream = await (await download).createReadStream();
      const parts: Buffer[] = [];
      for await (const part of stream) parts.push(part as Buffer);
      return Buffer.concat(parts);
    };
    const svg = (await save('SVG, the drawing')).toString();
    expect(svg).toMatch(/^<svg [^>]*viewBox/);
    expect(svg).not.toContain('var(--');
    expect((await save('PNG, the drawing')).subarray(0, 4)).toEqual(Buffer.from([0x89, 0x50, 0x4e, 0x47]));
    expect((await save('CSV, every value')).toString()).toMatch(/^"version","from","value"/);
  });

  it('offers to make an attribute filterable that reports are not told apart by', async () => {
    const { page } = stage.visitor;
    await open('reports by attributes.nobody-told-this');
    await page.getByRole('button', { name: /^Make nobody-told-this filterable/ }).waitFor();
    await stage.visitor.expectAccessible();
  });
});

describe('a sheet', () => {
  it('is begun from an answer, laid out with the keyboard, given to others by a link, and dropped', async () => {
    const { page } = stage.visitor;
    await stage.visitor.open(`${ask}?question=${encodeURIComponent('reports by version per week')}`);
    await stage.visitor.hydrated();
    await page.getByRole('button', { name: 'Keep on a sheet ▾' }).click();
    await page.getByLabel('Title of the chart').fill('Reports each week');
    await page.getByLabel('On a new sheet').fill('Reed bed');
    await stage.visitor.expectAccessible();
    await page.getByRole('button', { name: 'Make it' }).click();
    await page.getByRole('link', { name: 'Reed bed' }).waitFor();
    await stage.visitor.open(`${ask}?question=${encodeURIComponent('people by carrier')}`);
    await stage.visitor.hydrated();
    await page.getByRole('button', { name: 'Keep on a sheet ▾' }).click();
    await page.getByRole('button', { name: 'Reed bed' }).click();
    await page.getByRole('link', { name: 'Reed bed' }).click();

    await page.getByRole('heading', { name: 'Reed bed' }).waitFor();
    await stage.visitor.hydrated();
    const titles = () => page.locator('section[aria-label] h2').allTextContents();
    expect(await titles()).toEqual(['Reports each week', 'People']);
    await page.getByRole('button', { name: /^Move People/ }).focus();
    await page.keyboard.press('ArrowLeft');
    await expect.poll(titles).toEqual(['People', 'Reports each week']);
    await page.getByRole('button', { name: 'Do something with People' }).click();
    await page.getByRole('menuitem', { name: 'As wide as the sheet' }).click();
    await page.locator('li[data-width="whole"]').waitFor();
    await page.getByRole('region', { name: 'Reports each week' }).locator('[data-drawing] svg').first().waitFor();
    await stage.visitor.expectAccessibleInBothSchemes();

    await page.getByRole('button', { name: 'Sheet ▾' }).click();
    await page.getByRole('menuitem', { name: 'Make a link without a sign-in' }).click();
    const link = (await page.getByText(/\/sheet\/sheet_/).textContent()) as string;
    const stranger = await stage.arrive();
    try {
      await stranger.open(link);
      await stranger.hydrated();
      await stranger.page.getByRole('region', { name: 'People' }).getByText('Estuary Mobile').first().waitFor();
      await stranger.expectAccessible();
      await stranger.page.getByRole('button', { name: 'One after the other' }).click();
      await stranger.page.keyboard.press('ArrowRight');
      await stranger.page.getByRole('region', { name: 'Reports each week' }).waitFor();
      expect(stranger.complaints).toEqual([]);
    } finally {
      await stranger.leave();
    }

    await page.reload();
    await stage.visitor.hydrated();
    await expect.poll(titles).toEqual(['People', 'Reports each week']);
    await page.getByRole('button', { name: 'Sheet ▾' }).click();
    await page.getByRole('menuitem', { name: 'Drop the sheet' }).click();
    await page.waitForURL('**/sheets');
    await page.getByText('Monday morning').waitFor();
    expect((await fetch(link)).status).toBe(404);
  });
});
