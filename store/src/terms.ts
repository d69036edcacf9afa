import { createHash } from 'node:crypto';
import { nameOfTerm, type Term } from '@rough-ember/core/report-index/report-terms';
import { packTermIds, unpackTermIds } from '@rough-ember/core/report-index/term-ids';
import type { Knex } from 'knex';
import { type Database, inTransaction } from './database.ts';
import { insertRows } from './insert-rows.ts';
import { queueOnce } from './jobs.ts';

const mostRemembered = 200_000;

/** Terms that were met, by database: most reports have hardly a new one. */
let remembered = new WeakMap<Database, Map<string, number>>();

const rememberedOf = (database: Database): Map<string, number> => {
  const known = remembered.get(database);
  if (known && known.size < mostRemembered) return known;
  const empty = new Map<string, number>();
  remembered.set(database, empty);
  return empty;
};

/** Who somebody is: there are many of them, each met seldom. */
const isPersonal = ({ field }: Term): boolean => field === 'person' || field === 'installation';

/** The ids of terms of an app, by the name of the term; those that are new get one. */
export async function idsOfTerms(database: Database, appId: number, terms: readonly Term[]): Promise<Map<string, number>> {
  const known = rememberedOf(database);
  const ids = new Map<string, number>();
  const unknown = new Map<string, { hash: Buffer; term: Term }>();
  for (const term of terms) {
    const name = nameOfTerm(term);
    const id = known.get(`${appId} ${name}`);
    if (id !== undefined) ids.set(name, id);
    else unknown.set(name, { hash: createHash('sha256').update(name).digest().subarray(0, 16), term });
  }
  const all = [...unknown];
  for (let at = 0; at < all.length; at += 500) {
    const some = all.slice(at, at + 500);
    const found = await findOrAdd(
      database,
      appId,
      some.map(([, one]) => one),
    );
    for (const [name, one] of some) {
      const id = found.get(one.hash.toString('hex')) as number;
      ids.set(name, id);
      if (!isPersonal(one.term)) known.set(`${appId} ${name}`, id);
    }
  }
  return ids;
}

async function findOrAdd(database: Database, appId: number, terms: readonly { hash: Buffer; term: Term }[]): Promise<Map<string, number>> {
  const hashes = terms.map(({ hash }) => hash);
  const find = async () => {
    const rows: { id: number; hash: Buffer }[] = await database('terms')
      .where({ app_id: appId })
      .whereIn('hash', hashes)
      .select('id', 'hash');
    return new Map(rows.map(({ id, hash }) => [hash.toString('hex'), id]));
  };
  const found = await find();
  const rows = terms
    .filter(({ hash }) => !found.has(hash.toString('hex')))
    // In one order everywhere, so that two processes that add the same wait for each other instead of locking each other out.
    .sort((a, b) => Buffer.compare(a.hash, b.hash))
    .map(({ hash, term: { field, key, value } }) => ({ app_id: appId, hash, field, term_key: key, value }));
  if (rows.length === 0) return found;
  await inTransaction(database, (transaction) => insertRows(transaction, 'terms', rows, { ignoreKnown: true }));
  return find();
}

/** The terms of a report as they are stored, ready to be saved. */
export function packTerms(terms: readonly Term[], ids: ReadonlyMap<string, number>): Buffer {
  return Buffer.from(packTermIds([...new Set(terms.map((term) => ids.get(nameOfTerm(term)) as number))]));
}

/**
 * Keeps the packed terms of reports in place of those they had. A term that was swept since its id was looked up is told as an
 * error: whoever tries again finds it anew.
 */
export async function saveTerms(transaction: Knex.Transaction, reports: readonly { row: number; terms: Buffer }[]): Promise<void> {
  await holdTerms(transaction, [...new Set(reports.flatMap(({ terms }) => unpackTermIds(terms)))]);
  const rows = reports.map(({ row, terms }) => ({ report_row: row, terms }));
  await insertRows(transaction, 'report_terms', rows, { behind: 'ON DUPLICATE KEY UPDATE terms = VALUES(terms)' });
}

/** Terms that a report was about to use have gone. */
export class TermsGone extends Error {}

/** Keeps terms from being swept until the transaction ends. */
async function holdTerms(transaction: Knex.Transaction, ids: readonly number[]): Promise<void> {
  for (let at = 0; at < ids.length; at += termsAtOnce) {
    const some = ids.slice(at, at + termsAtOnce);
    const there: number[] = await transaction('terms').whereIn('id', some).forShare().pluck('id');
    if (there.length === some.length) continue;
    remembered = new WeakMap();
    throw new TermsGone('terms were swept while they were about to be used');
  }
}

const termsAtOnce = 2_000;

/** Queues a look for terms that no report of an app uses any more. */
export const queueSweepOfTerms = (transaction: Knex.Transaction, appId: number): Promise<void> =>
  queueOnce(transaction, { kind: 'sweep-terms', appId, priority: 'again' }, appId);

const sweptAtOnce = 20_000;

/** Forgets the words that no report of an app uses any more; gives how many. */
export async function sweepTerms(database: Database, appId: number): Promise<number> {
  const all: number[] = await database('terms').where({ app_id: appId }).pluck('id');
  const unused = [...(await withoutUsed(database, appId, all))];
  let swept = 0;
  for (let at = 0; at < unused.length; at += sweptAtOnce)
    swept += await inTransaction(database, async (transaction) => {
      const candidates: number[] = await transaction('terms')
        .whereIn('id', unused.slice(at, at + sweptAtOnce))
        .forUpdate()
        .pluck('id');
      // From here on nobody can begin to use one of these; who did before has committed and is seen.
      const ids = [...(await withoutUsed(transaction, appId, candidates))];
      for (let from = 0; from < ids.length; from += termsAtOnce)
        await transaction('terms')
          .whereIn('id', ids.slice(from, from + termsAtOnce))
          .delete();
      return ids.length;
    });
  return swept;
}

/** Those of some terms that no report uses. */
async function withoutUsed(database: Database, appId: number, ids: readonly number[]): Promise<Set<number>> {
  const left = new Set(ids);
  for (let afterId = 0; left.size > 0; ) {
    const [rows] = (await database.raw(
      `SELECT reports.id, terms FROM reports FORCE INDEX (PRIMARY) JOIN report_terms ON report_row = reports.id
       WHERE app_id = ? AND reports.id > ? ORDER BY reports.id LIMIT ?`,
      [appId, afterId, sweptAtOnce],
    )) as [{ id: number; terms: Buffer }[]];
    for (const { terms } of rows) for (const id of unpackTermIds(terms)) left.delete(id);
    if (rows.length < sweptAtOnce) break;
    afterId = rows.at(-1)?.id as number;
  }
  return left;
}
