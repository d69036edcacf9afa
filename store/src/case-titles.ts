import type { Grouping } from '@rough-ember/core/grouping/group-report';
import type { Database } from './database.ts';

/** What a case is known by. */
export type CaseTitle = Pick<Grouping, 'what' | 'where' | 'message' | 'culprit' | 'provisional'>;

/** A title as it is stored. */
export const titleColumns = ({ what, where, message, culprit, provisional }: CaseTitle) => ({
  what: what.slice(0, 500),
  where_text: where.slice(0, 1200),
  message: message?.slice(0, 2000) ?? null,
  culprit: culprit && JSON.stringify(culprit),
  provisional,
});

const lookedAt = 20;

/** A case as it is known, with its newest reports as they are grouped; null when it is gone. */
export async function loadForTitle(
  database: Database,
  caseId: number,
): Promise<{
  readonly what: string;
  readonly where: string;
  readonly reports: readonly { readonly body: string; readonly readable: string }[];
} | null> {
  const known = await database('cases').where({ id: caseId }).first({ what: 'what', where: 'where_text' });
  if (!known) return null;
  const reports: { body: string; readable: string }[] = await database('reports')
    .join('report_bodies', 'report_bodies.report_row', 'reports.id')
    .where({ case_id: caseId })
    .whereNotNull('readable')
    .orderBy('reports.id', 'desc')
    .limit(lookedAt)
    .select('body', 'readable');
  return { ...known, reports };
}

const forgotten = 'Something that is not kept any more';

/** Gives a case its words again; null: of its reports nothing is left to make them of, so only what names code stays. */
export async function saveTitle(database: Database, caseId: number, title: CaseTitle | null): Promise<void> {
  const found = database('cases').where({ id: caseId });
  if (title !== null) await found.update(titleColumns(title));
  else await found.update({ message: null, what: database.raw('IF(culprit IS NULL, ?, what)', [forgotten]) });
}
