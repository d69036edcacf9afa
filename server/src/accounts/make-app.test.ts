import { listIntakeKeys } from '@rough-ember/store/credentials';
import type { Database } from '@rough-ember/store/database';
import { freshDatabase } from '@rough-ember/store/testing/fresh-database';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { makeApp, newAppSchema } from './make-app.ts';

let database: Database;
let remove: () => Promise<void>;
beforeAll(async () => {
  ({ database, remove } = await freshDatabase());
});
afterAll(() => remove());

const wanted = (more: object = {}) => newAppSchema.parse({ name: 'Guide', prefix: 'lg', platforms: ['Android'], ourPackages: [], ...more });

describe('a new app', () => {
  it.each([
    ['Larkfield Guide', 'LG', 'larkfield-guide'],
    ['Vögel & Nester!', 'VN', 'vogel-nester'],
    ['  Trails 2  ', 'TR', 'trails-2'],
    ['地図', 'MAP', 'map'],
    ['n'.repeat(100), 'NN', 'n'.repeat(60)],
  ])('"%s" has a short name for addresses, and a key to begin with', async (name, prefix, slug) => {
    const app = await makeApp(database, wanted({ name, prefix }));
    expect(app).toMatchObject({ slug, prefix, name: name.trim() });
    expect(await listIntakeKeys(database, app.id)).toMatchObject([
      { name: 'phones', keyText: expect.stringMatching(/^intake_/), revokedAt: null },
    ]);
  });

  it.each([[{ name: 'Other', prefix: 'lg' }], [{ name: 'larkfield guide', prefix: 'L2' }]])('is refused when %j is taken', async (more) => {
    await expect(makeApp(database, wanted(more))).rejects.toMatchObject({ code: 'taken' });
  });

  it.each([
    [{ name: ' ' }, 'give it a name'],
    [{ prefix: '1A' }, 'takes one to ten letters or digits, a letter first'],
    [{ prefix: 'ELEVENCHARS' }, 'takes one to ten letters or digits, a letter first'],
    [{ platforms: [] }, 'choose at least one'],
    [{ ourPackages: ['com larkfield'] }, 'is a package such as com.example'],
  ])('of %j is refused, and why', (more, message) => {
    expect(newAppSchema.safeParse({ ...wanted(), ...more }).error?.issues.map((one) => one.message)).toContain(message);
  });
});
