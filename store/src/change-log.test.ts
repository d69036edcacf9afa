import { afterAll, beforeAll, expect, it } from 'vitest';
import { currentPosition, readChanges, sequenceChanges } from './change-log.ts';
import { type Database, openDatabase } from './database.ts';
import { freshDatabase } from './testing/fresh-database.ts';

let database: Database;
let others: Database[];
let remove: () => Promise<void>;
beforeAll(async () => {
  const fresh = await freshDatabase();
  ({ database, remove } = fresh);
  others = [1, 2, 3].map(() => openDatabase(fresh.url));
});
afterAll(async () => {
  for (const other of others) await other.destroy();
  await remove();
});

const keyOf = (id: number): Buffer => {
  const key = Buffer.alloc(8);
  key.writeBigUInt64BE(BigInt(id));
  return key;
};
const write = (connection: Pick<Database, 'raw'>, id: number) =>
  connection.raw("INSERT INTO changes (app_id, subject, subject_key) VALUES (1, 'report', ?)", [keyOf(id)]);

async function readAll(after: number): Promise<{ ids: number[]; position: number }> {
  const ids: number[] = [];
  for (let position = after; ; ) {
    const read = await readChanges(database, 1, 'report', position);
    if (read === null) throw new Error('told no more');
    ids.push(...read.keys.map((key) => Number(key.readBigUInt64BE())));
    position = read.position;
    if (read.isAll) return { ids, position };
  }
}

it('a transaction that commits long after a later one is not missed', async () => {
  const begun = await currentPosition(database);
  const slow = await database.transaction();
  await write(slow, 1);
  await write(database, 2);
  await sequenceChanges(database);
  const first = await readAll(begun);
  expect(first.ids).toEqual([2]);
  await slow.commit();
  await sequenceChanges(database);
  expect((await readAll(first.position)).ids).toEqual([1]);
});

it('what is rolled back was never told', async () => {
  const begun = await currentPosition(database);
  const given = await database.transaction();
  await write(given, 3);
  await given.rollback();
  await sequenceChanges(database);
  expect((await readAll(begun)).ids).toEqual([]);
});

it('readers who follow while many write and several processes put in order see each change, in any order of commits', async () => {
  let position = await currentPosition(database);
  const seen = new Set<number>();
  let writing = true;
  const writers = others.map(async (other, at) => {
    for (let turn = 0; turn < 40; turn++) {
      const transaction = await other.transaction();
      for (let one = 0; one < 5; one++) await write(transaction, 1_000 * (at + 1) + turn * 5 + one);
      await new Promise((resolve) => setTimeout(resolve, (turn * 7 + at * 3) % 11));
      await (turn % 9 === 8 ? transaction.rollback() : transaction.commit());
    }
  });
  const orderers = others.map(async (other) => {
    while (writing) await sequenceChanges(other);
  });
  const following = (async () => {
    for (let last = false; !last; ) {
      last = !writing;
      await sequenceChanges(database);
      const read = await readAll(position);
      for (const id of read.ids) seen.add(id);
      position = read.position;
    }
  })();
  await Promise.all(writers);
  writing = false;
  await Promise.all([...orderers, following]);
  expect(seen.size).toBe(3 * 36 * 5);
  expect(await database('changes').count({ count: '*' })).toEqual([{ count: 0 }]);
});
