import type { LikelyChange } from '@rough-ember/core/changes/rank-changes';
import { z } from 'zod';
import type { Database } from './database.ts';
import { readStored, type StoredForm, writeStored } from './stored-json.ts';

/** What the history of the sources says of a case. */
export interface FoundChanges {
  /** The last version without the case, and the first with it; null where there is none before. */
  readonly from: string | null;
  readonly to: string;
  /** Commits between the two. */
  readonly commits: number;
  /** The likeliest first. */
  readonly changes: readonly LikelyChange[];
  /** Who changed the culprit's line last, be it in these commits or long before; null where that is not known. */
  readonly lastChange: Omit<LikelyChange, 'reason'> | null;
  /** The culprit's file, and who looks after it by the code owners file. */
  readonly path: string | null;
  readonly owners: readonly string[];
}

const commit = {
  hash: z.string(),
  authorName: z.string(),
  authorEmail: z.string(),
  at: z.string(),
  subject: z.string(),
} as const;

const form: StoredForm<FoundChanges> = {
  column: 'likely_changes.found',
  upgrades: [],
  schema: z.object({
    from: z.string().nullable(),
    to: z.string(),
    commits: z.number(),
    changes: z.array(z.object({ ...commit, reason: z.string() })),
    lastChange: z.object(commit).nullable(),
    path: z.string().nullable(),
    owners: z.array(z.string()),
  }),
};

/** What was found for a case from the same basis; null where nothing was, or from another one. */
export async function findKeptChanges(database: Database, caseId: number, basis: Buffer): Promise<FoundChanges | null> {
  const row: { found: string } | undefined = await database('likely_changes').where({ case_id: caseId, basis }).first('found');
  return row ? readStored(form, row.found) : null;
}

/** What was found last for some cases, from whatever basis that was. */
export async function listKeptChanges(database: Database, caseIds: readonly number[]): Promise<Map<number, FoundChanges>> {
  const rows: { caseId: number; found: string }[] = await database('likely_changes')
    .whereIn('case_id', caseIds)
    .select({ caseId: 'case_id', found: 'found' });
  return new Map(rows.map(({ caseId, found }) => [caseId, readStored(form, found)]));
}

export async function keepChanges(database: Database, caseId: number, basis: Buffer, found: FoundChanges): Promise<void> {
  await database('likely_changes')
    .insert({ case_id: caseId, basis, found: writeStored(form, found) })
    .onConflict('case_id')
    .merge(['basis', 'found']);
}
