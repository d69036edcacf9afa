import type mysql from 'mysql2/promise';
import { signedIn, time } from './ask.ts';
import { type Bench, percentile } from './figure.ts';
import { withProduct } from './intake.ts';
import { fillLargeHistory, largeHistory } from './large-history.ts';
import { fillLargeSessions, largeSessions } from './large-sessions.ts';

const asked = 24;
const largest = { sessions: 20_000_000, persons: 2_000_000 };
/** The largest app has reports too, since the screens tell which cases make a difference; a million are the matter of another figure. */
const reportsBeside = 200_000;
const scales = [1_000_000, 5_000_000, 20_000_000] as const;

/** The slowest of the questions of Crash-free and Versions at 20 million sessions, p95, and how that grew from one million. */
export const crashFree: Bench = (folder) =>
  withProduct(folder, async (product, database) => {
    const ask = await signedIn(product);
    const lines: string[] = [];
    let slowest = 0;
    for (const sessions of scales) {
      const slug = `large-${sessions / 1_000_000}`;
      await ask('/api/v1/apps', { name: slug, slug, prefix: `L${sessions / 1_000_000}`, platforms: ['Android'], ourPackages: [] });
      const [[app]] = (await database.query('SELECT id, slug FROM apps WHERE prefix = ?', [`L${sessions / 1_000_000}`])) as unknown as [
        { id: number; slug: string }[],
      ];
      if (!app) throw new Error('the app was not made');
      const { sums, bytes } = await fillLargeSessions(database, app.id, {
        sessions,
        persons: (largest.persons * sessions) / largest.sessions,
      });
      const api = `/api/v1/apps/${app.slug}`;
      if (sessions === largest.sessions) await fillLargeHistory(database, app.id, { reports: reportsBeside });
      const readIn = await time(() => ask(`${api}/crash-free/matrix`));
      // The reports are read in before anything is timed.
      await ask(`${api}/cases`);
      const found = await askAll(ask, api);
      slowest = Math.max(...found.map(([, ms]) => ms));
      const exact = await time(() => ask(`${api}/crash-free?last=90d&exact=1`));
      lines.push(
        `${sessions / 1_000_000} million sessions: ${sums} sums in ${(bytes / 1e6).toFixed(0)} MB, read in within ${(readIn / 1000).toFixed(1)} s; ${found
          .map(([name, ms]) => `${name} ${ms.toFixed(0)} ms`)
          .join(', ')}; counting everybody ${exact.toFixed(0)} ms`,
      );
    }
    const direct = await directMs(database);
    return {
      name: 'crashfree.p95',
      value: slowest,
      unit: 'ms',
      yardstick: 'one statement of the database that counts the distinct persons of 300,000 sessions by version',
      ratio: slowest / direct,
      note: `${largeSessions.versions} versions, ${largeSessions.systems} systems, ${largeSessions.devices} devices, ${largeSessions.days} days, the largest with ${reportsBeside} reports of ${largeHistory.cases} cases; ${lines.join('; ')}; the statement ${direct.toFixed(0)} ms`,
    };
  });

async function askAll(ask: (path: string) => Promise<unknown>, api: string): Promise<[string, number][]> {
  const days = ['7d', '14d', '30d', '90d'];
  const filters = ['', 'flags.night-map = on', 'os.version >= 12', '"country" = "country 3"'].map((one) =>
    one.startsWith('"') ? 'country = "country 3"' : one,
  );
  const scope = (at: number) =>
    `last=${days[at % days.length]}&filter=${encodeURIComponent(filters[Math.floor(at / 4) % filters.length] as string)}`;
  const questions: Readonly<Record<string, (at: number) => string>> = {
    overview: (at) => `crash-free?${scope(at)}`,
    'version and device': (at) => `crash-free/matrix?${scope(at)}&down=device.model&across=version`,
    'system and country': (at) => `crash-free/matrix?${scope(at)}&down=os.version&across=country`,
    'two sides': (at) => `crash-free/compare?${scope(at)}&by=version&left=4.${36 - (at % 3)}&right=4.${37 - (at % 3)}`,
    versions: () => 'versions',
    screens: (at) => `screens?${scope(at)}`,
    requests: (at) => `requests?${scope(at)}`,
  };
  const found: [string, number][] = [];
  for (const [name, path] of Object.entries(questions)) {
    const times: number[] = [];
    for (let at = 0; at < asked; at++) times.push(await time(() => ask(`${api}/${path(at)}`)));
    found.push([name, percentile(times, 95)]);
  }
  return found;
}

/** The same sort of question, asked of raw sessions. */
async function directMs(database: mysql.Connection): Promise<number> {
  await database.query(
    `CREATE TABLE raw_sessions (id INT PRIMARY KEY, day DATE NOT NULL, version VARCHAR(20) NOT NULL, person BINARY(16) NOT NULL, crashed BOOLEAN NOT NULL, INDEX by_day (day, version, person, crashed))
     SELECT seq AS id, CURRENT_DATE - INTERVAL (CRC32(seq) % 90) DAY AS day, CONCAT('4.', CRC32(seq * 3) % 40) AS version, UNHEX(MD5(CRC32(seq * 7) % 100000)) AS person, CRC32(seq * 11) % 100 = 0 AS crashed FROM seq_1_to_300000`,
  );
  const times: number[] = [];
  for (let at = 0; at < 5; at++)
    times.push(
      await time(() => database.query('SELECT version, COUNT(*), SUM(crashed), COUNT(DISTINCT person) FROM raw_sessions GROUP BY version')),
    );
  return percentile(times, 50);
}
