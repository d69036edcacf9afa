import type { Knex } from 'knex';
import { type Database, inTransaction } from './database.ts';
import { insertRows } from './insert-rows.ts';

/** Where a reader stands in the log of changes: all that is committed later has a higher position. */
export type Position = number;

/** What changes are about, and how many bytes name one of it. */
export const changeSubjects = { report: 8, 'person-day': 18 } as const;
export type ChangeSubject = keyof typeof changeSubjects;

const sequencedAtOnce = 20_000;
const keysInABlock = 5_000;

/**
 * Gives all committed changes their position. Triggers write a change in the transaction that makes it, and those commit in
 * whatever order; positions are given afterwards, by one process at a time, so that a reader who asks for what is beyond its own
 * misses nothing however long a transaction took to commit and whatever the clocks say.
 */
export async function sequenceChanges(database: Database): Promise<void> {
  for (let last = sequencedAtOnce; last === sequencedAtOnce; ) {
    // Mostly there is nothing, and then nobody needs to wait for anybody.
    if (!(await database('changes').first('id'))) return;
    last = await inTransaction(database, sequenceSome);
  }
}

async function sequenceSome(transaction: Knex.Transaction): Promise<number> {
  const { next } = await transaction('change_position').where({ id: 1 }).forUpdate().first({ next: 'next_position' });
  const rows: { id: number; appId: number; subject: ChangeSubject; key: Buffer }[] = await transaction('changes')
    .orderBy('id')
    .limit(sequencedAtOnce)
    .select({ id: 'id', appId: 'app_id', subject: 'subject', key: 'subject_key' });
  const blocks = new Map<string, { appId: number; subject: ChangeSubject; keys: Map<string, Buffer> }>();
  for (const { appId, subject, key } of rows) {
    const name = `${appId} ${subject}`;
    const block = blocks.get(name) ?? { appId, subject, keys: new Map() };
    block.keys.set(key.toString('latin1'), key);
    blocks.set(name, block);
  }
  const logged = [...blocks.values()].flatMap(({ appId, subject, keys }) =>
    partsOf([...keys.values()], keysInABlock).map((some) => ({ app_id: appId, subject, subject_keys: Buffer.concat(some) })),
  );
  await insertRows(
    transaction,
    'change_log',
    logged.map((block, at) => ({ ...block, position: Number(next) + at })),
  );
  for (const some of partsOf(rows, 2_000))
    await transaction('changes')
      .whereIn(
        'id',
        some.map(({ id }) => id),
      )
      .delete();
  await transaction('change_position')
    .where({ id: 1 })
    .update({ next_position: Number(next) + logged.length });
  return rows.length;
}

function partsOf<Item>(items: readonly Item[], size: number): Item[][] {
  const parts: Item[][] = [];
  for (let at = 0; at < items.length; at += size) parts.push(items.slice(at, at + size));
  return parts;
}

/** The position after everything that is committed now. Whoever reads all there is afterwards has all of it. */
export async function currentPosition(database: Database): Promise<Position> {
  await sequenceChanges(database);
  const row = await database('change_position').where({ id: 1 }).first({ next: 'next_position' });
  return Number(row.next) - 1;
}

const blocksAtOnce = 200;

/**
 * What changed of an app's subject after a position, at most a million keys at once, and the position up to which that goes; null
 * when changes from there on are told no more, so that everything must be read.
 */
export async function readChanges(
  database: Database,
  appId: number,
  subject: ChangeSubject,
  after: Position,
): Promise<{ readonly keys: readonly Buffer[]; readonly position: Position; readonly isAll: boolean } | null> {
  const kept = await database('change_position').where({ id: 1 }).first({ after: 'kept_after' });
  if (after < Number(kept.after)) return null;
  const blocks: { position: number; keys: Buffer }[] = await database('change_log')
    .where({ app_id: appId, subject })
    .where('position', '>', after)
    .orderBy('position')
    .limit(blocksAtOnce)
    .select({ position: 'position', keys: 'subject_keys' });
  const size = changeSubjects[subject];
  const keys = new Map<string, Buffer>();
  for (const block of blocks)
    for (let at = 0; at + size <= block.keys.length; at += size) {
      const key = block.keys.subarray(at, at + size);
      keys.set(key.toString('latin1'), key);
    }
  return { keys: [...keys.values()], position: Number(blocks.at(-1)?.position ?? after), isAll: blocks.length < blocksAtOnce };
}

/** Tells of a change that no trigger sees. */
export async function noteChanges(
  transaction: Knex.Transaction,
  appId: number,
  subject: ChangeSubject,
  keys: readonly Buffer[],
): Promise<void> {
  await insertRows(
    transaction,
    'changes',
    keys.map((key) => ({ app_id: appId, subject, subject_key: key })),
  );
}

/** How long changes are told; whoever has not looked for so long reads everything anew. */
const changesKeptDays = 30;
const prunedAtOnce = 500;

/** Forgets changes that every process has seen long ago; gives how many blocks of them went. */
export async function pruneChanges(database: Database): Promise<number> {
  let pruned = 0;
  for (let last = prunedAtOnce; last === prunedAtOnce; pruned += last)
    last = await inTransaction(database, async (transaction) => {
      // Locked first, so that no reader learns of the new end before the changes are gone, nor the other way round.
      await transaction('change_position').where({ id: 1 }).forUpdate().first('id');
      const old: number[] = await transaction('change_log')
        .whereRaw('logged_at < CURRENT_TIMESTAMP - INTERVAL ? DAY', [changesKeptDays])
        .orderBy('position')
        .limit(prunedAtOnce)
        .pluck('position');
      if (old.length === 0) return 0;
      await transaction('change_log').whereIn('position', old).delete();
      await transaction('change_position')
        .where({ id: 1 })
        .update({ kept_after: Number(old.at(-1)) });
      return old.length;
    });
  return pruned;
}
