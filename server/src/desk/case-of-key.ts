import type { App } from '@rough-ember/store/apps';
import { findCaseByGroupingKey } from '@rough-ember/store/cases';
import type { Database } from '@rough-ember/store/database';
import { z } from 'zod';

export const caseOfKeySchema = z.object({ keys: z.array(z.string().min(1).max(8_000)).min(1).max(8) });

/** The case that reports with one of these grouping keys are placed in, as a person is told of it; null when there is none. */
export async function findCaseOfKey(
  database: Database,
  app: App,
  keys: readonly string[],
): Promise<{ ref: string; what: string; where: string } | null> {
  for (const key of keys) {
    const found = await findCaseByGroupingKey(database, app.id, key);
    if (found) return { ref: `${app.prefix}-${found.number}`, what: found.what, where: found.where };
  }
  return null;
}
