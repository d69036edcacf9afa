import type { CaseList } from '@rough-ember/server/desk/case-list';
import type mysql from 'mysql2/promise';
import { signedIn, time } from './ask.ts';
import { type Bench, percentile } from './figure.ts';
import { withProduct } from './intake.ts';
import { fillLargeHistory, largeHistory } from './large-history.ts';

const asked = 40;

/** The slowest of the questions a desk asks at a million reports, p95, against the same list counted by the database itself. */
export const desk: Bench = (folder) =>
  withProduct(folder, async (product, database) => {
    const ask = await signedIn(product);
    await ask('/api/v1/apps', { name: 'Large', slug: 'large', prefix: 'LX', platforms: ['Android'], ourPackages: [] });
    const [[app]] = (await database.query("SELECT id, slug FROM apps WHERE prefix = 'LX'")) as unknown as [{ id: number; slug: string }[]];
    if (!app) throw new Error('the app was not made');
    await fillLargeHistory(database, app.id);
    const api = `/api/v1/apps/${app.slug}`;
    const readIn = await time(() => ask(`${api}/cases`));
    const { cases } = (await ask(`${api}/cases`)) as CaseList;
    const refs = cases.map((one) => one.ref);
    const ref = (at: number) => refs[at % refs.length] as string;
    const filters = ['flags.flag-3 = on', 'attributes.attribute-7 = "value 2" AND os.version >= 12', 'NOT country = NO', 'version >= 4.3'];
    const filter = (at: number) => encodeURIComponent(filters[at % filters.length] as string);
    const questions: Readonly<Record<string, (at: number) => string>> = {
      desk: (at) => `cases?last=${[7, 14, 30, 90][at % 4]}d`,
      'desk, filtered': (at) => `cases?filter=${filter(at)}`,
      search: (at) => `cases?filter=${encodeURIComponent(`"function${at * 17}"`)}`,
      case: (at) => `cases/${ref(at)}?report=${at % 5}`,
      who: (at) => `cases/${ref(at)}/who`,
      when: (at) => `cases/${ref(at)}/when?field=version`,
      'breakdown of the scope': (at) => `values?field=attributes&key=attribute-${at % 60}`,
    };
    const found: [string, number][] = [];
    for (const [name, path] of Object.entries(questions)) {
      const times: number[] = [];
      for (let at = 0; at < asked; at++) times.push(await time(() => ask(`${api}/${path(at)}`)));
      found.push([name, percentile(times, 95)]);
    }
    const direct = await direct95(database, app.id);
    const slowest = Math.max(...found.map(([, ms]) => ms));
    return {
      name: 'desk.p95',
      value: slowest,
      unit: 'ms',
      yardstick: 'counting the same list of cases with one statement of the database',
      ratio: slowest / direct,
      note: `${largeHistory.reports} reports in ${largeHistory.cases} cases with ${largeHistory.attributes} attributes and ${largeHistory.flags} flags; ${found
        .map(([name, ms]) => `${name} ${ms.toFixed(0)} ms`)
        .join(', ')}; the database alone ${direct.toFixed(0)} ms; reading all in took ${(readIn / 1000).toFixed(1)} s`,
    };
  });

async function direct95(database: mysql.Connection, appId: number): Promise<number> {
  const times: number[] = [];
  for (let at = 0; at < 5; at++)
    times.push(
      await time(() =>
        database.query(
          `SELECT case_id, COUNT(*) AS reports, COUNT(DISTINCT person_key) AS people FROM reports
           WHERE app_id = ? AND kind IN ('crash', 'hang', 'kill') AND excluded = 0 AND occurred_at >= UTC_TIMESTAMP(3) - INTERVAL 30 DAY
           GROUP BY case_id ORDER BY reports DESC LIMIT 100`,
          [appId],
        ),
      ),
    );
  return percentile(times, 95);
}
