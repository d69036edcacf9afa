import { currentPosition, readChanges, sequenceChanges } from '@rough-ember/store/change-log';
import type { Database } from '@rough-ember/store/database';
import { listIntakeLog, writeIntakeLog } from '@rough-ember/store/intake-log';
import { freshDatabase } from '@rough-ember/store/testing/fresh-database';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { keepHouse } from './housekeeping.ts';

let database: Database;
let remove: () => Promise<void>;
beforeAll(async () => {
  ({ database, remove } = await freshDatabase());
});
afterAll(() => remove());

it('requests leave the intake log after two weeks, and not before', async () => {
  const nothing = {
    keyName: null,
    client: null,
    status: 401,
    accepted: 0,
    duplicates: 0,
    excluded: 0,
    sampledOut: 0,
    passedOver: 0,
    remarked: 0,
    refused: 1,
    reason: 'x',
    remedy: null,
    reportId: null,
    lines: [],
  };
  for (const what of ['old', 'young']) await writeIntakeLog(database, { ...nothing, appId: null, what });
  const now = new Date();
  await database('intake_log')
    .where({ what: 'old' })
    .update({ at: new Date(now.getTime() - 15 * 86_400_000) });
  expect(await keepHouse(database, now)).toBe(1);
  expect((await listIntakeLog(database, { appId: 0, strangers: true, limit: 10 })).map((entry) => entry.what)).toEqual(['young']);
});

it('forgets changes that were told long ago, and who stands there reads everything anew', async () => {
  await database('changes').insert(
    [1, 2].map((at) => ({ app_id: 1, subject: 'report', subject_key: Buffer.from([0, 0, 0, 0, 0, 0, 0, at]) })),
  );
  await sequenceChanges(database);
  const before = await currentPosition(database);
  await database('change_log').update({ logged_at: database.raw('CURRENT_TIMESTAMP - INTERVAL 31 DAY') });
  await database('changes').insert({ app_id: 1, subject: 'report', subject_key: Buffer.alloc(8) });
  await keepHouse(database, new Date());
  expect(await readChanges(database, 1, 'report', before - 1)).toBeNull();
  expect(await readChanges(database, 1, 'report', before)).toMatchObject({ keys: [Buffer.alloc(8)], isAll: true });
});
