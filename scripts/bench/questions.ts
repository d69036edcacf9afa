import { signedIn, time } from './ask.ts';
import { type Bench, percentile } from './figure.ts';
import { withProduct } from './intake.ts';
import { fillLargeHistory } from './large-history.ts';
import { fillLargeSessions } from './large-sessions.ts';

const asked = 16;
const size = { sessions: 20_000_000, persons: 2_000_000, reports: 1_000_000 };

/** Questions as people put them: of reports, of sessions, of both, over time and by several fields. */
const questions = [
  'reports by version per week',
  'affected people by device.model, os.version',
  'cases by kind per day',
  'people by version per day',
  'crashed sessions per sessions by device.model, version',
  'crash-free people by country as before and after',
  'reports per sessions by version per day since release',
  'affected people per people by os.version, country, device.model',
  'p95 of request time by version per week',
] as const;

/** The slowest of some questions of one's own in a large app, p95. */
export const ownQuestions: Bench = (folder) =>
  withProduct(folder, async (product, database) => {
    const ask = await signedIn(product);
    await ask('/api/v1/apps', { name: 'large', prefix: 'LA', platforms: ['Android'], ourPackages: [] });
    const [[app]] = (await database.query("SELECT id, slug FROM apps WHERE prefix = 'LA'")) as unknown as [{ id: number; slug: string }[]];
    if (!app) throw new Error('the app was not made');
    await fillLargeSessions(database, app.id, size);
    await fillLargeHistory(database, app.id, { reports: size.reports });
    const api = `/api/v1/apps/${app.slug}`;
    // Both are read in before anything is timed.
    await ask(`${api}/crash-free/matrix`);
    await ask(`${api}/cases`);
    const days = ['7d', '14d', '30d', '90d'];
    const found: [string, number][] = [];
    for (const question of questions) {
      const times: number[] = [];
      for (let at = 0; at < asked; at++)
        times.push(await time(() => ask(`${api}/ask?last=${days[at % days.length]}&question=${encodeURIComponent(question)}`)));
      found.push([question, percentile(times, 95)]);
    }
    const slowest = Math.max(...found.map(([, ms]) => ms));
    const [direct] = [
      await time(() => database.query('SELECT version, COUNT(*), COUNT(DISTINCT person_key) FROM reports GROUP BY version')),
    ];
    return {
      name: 'ask.p95',
      value: slowest,
      unit: 'ms',
      yardstick: 'one statement of the database that counts the distinct people of its million reports by version',
      ratio: slowest / direct,
      note: `${size.sessions} sessions of ${size.persons} people, ${size.reports} reports; ${found.map(([name, ms]) => `${name} ${ms.toFixed(0)} ms`).join('; ')}; the statement ${direct.toFixed(0)} ms`,
    };
  });
