import type { Database } from './database.ts';

/** Has somebody hear of what happens to a case, though they take no part in it. */
export async function followCase(database: Database, caseId: number, accountId: number): Promise<void> {
  await database('case_followers').insert({ case_id: caseId, account_id: accountId }).onConflict().ignore();
}

export async function unfollowCase(database: Database, caseId: number, accountId: number): Promise<void> {
  await database('case_followers')
    .whereIn('case_id', await withMerged(database, caseId))
    .where({ account_id: accountId })
    .delete();
}

/** Those who follow a case, or one that was merged into it. */
export async function listFollowers(database: Database, caseId: number): Promise<number[]> {
  return database('case_followers')
    .whereIn('case_id', await withMerged(database, caseId))
    .distinct()
    .pluck('account_id');
}

const withMerged = async (database: Database, caseId: number): Promise<number[]> => [
  caseId,
  ...(await database('cases').where({ merged_into: caseId }).pluck('id')),
];
