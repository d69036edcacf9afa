import { createHash } from 'node:crypto';
import { nameOfTerm, type Term } from '@rough-ember/core/report-index/report-terms';
import { packTermIds } from '@rough-ember/core/report-index/term-ids';
import type { Knex } from 'knex';
import { type Database, inTransaction } from './database.ts';
import { insertRows } from './insert-rows.ts';

const mostRemembered = 200_000;

/** Terms that were met, by database: most reports have hardly a new one. Those that are never forgotten can be remembered. */
const remembered = new WeakMap<Database, Map<string, number>>();

const rememberedOf = (database: Database): Map<string, number> => {
  const known = remembered.get(database);
  if (known && known.size < mostRemembered) return known;
  const empty = new Map<string, number>();
  remembered.set(database, empty);
  return empty;
};

/** Who somebody is: gone when the person is forgotten. */
const personalFields = ['person', 'installation'] as const;
const isPersonal = ({ field }: Term): boolean => personalFields.some((one) => one === field);

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

/** Keeps the packed terms of reports in place of those they had. */
export async function saveTerms(transaction: Knex.Transaction, reports: readonly { row: number; terms: Buffer }[]): Promise<void> {
  const rows = reports.map(({ row, terms }) => ({ report_row: row, terms }));
  await insertRows(transaction, 'report_terms', rows, { behind: 'ON DUPLICATE KEY UPDATE terms = VALUES(terms)' });
}

/** Forgets that an app knew somebody under an id; the terms of reports that are gone name nobody any more. */
export async function forgetPersonTerms(transaction: Knex.Transaction, appId: number, id: string): Promise<void> {
  await transaction('terms').where({ app_id: appId, value: id }).whereIn('field', personalFields).delete();
}
