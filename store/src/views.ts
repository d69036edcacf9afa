import type { Database } from './database.ts';

/** A scope kept under a name, for whoever made it or for the team. */
export interface View {
  readonly id: number;
  readonly name: string;
  /** The scope as address parameters. */
  readonly address: string;
  readonly madeBy: string;
  readonly forTeam: boolean;
}

/** The views of an app that somebody may see, by name. */
export async function listViews(database: Database, appId: number, person: string): Promise<View[]> {
  const rows: (Omit<View, 'forTeam'> & { forTeam: number })[] = await database('views')
    .where({ app_id: appId })
    .where((query) => query.where({ for_team: true }).orWhere({ made_by: person }))
    .orderBy(['name', 'id'])
    .select({ id: 'id', name: 'name', address: 'address', madeBy: 'made_by', forTeam: 'for_team' });
  return rows.map((row) => ({ ...row, forTeam: row.forTeam === 1 }));
}

const mostViews = 200;

/** Keeps a view; null when the app has as many as it may have. */
export async function addView(
  database: Database,
  appId: number,
  { name, address, madeBy, forTeam }: Omit<View, 'id'>,
): Promise<number | null> {
  const [row] = await database('views').where({ app_id: appId }).count({ count: '*' });
  if (Number(row?.count) >= mostViews) return null;
  const [id] = await database('views').insert({ app_id: appId, name, address, made_by: madeBy, for_team: forTeam });
  return id as number;
}

/** Drops a view that somebody made, or any view of the team; false when there is no such view for them. */
export async function removeView(database: Database, appId: number, { id, person }: { id: number; person: string }): Promise<boolean> {
  const removed = await database('views')
    .where({ app_id: appId, id })
    .where((query) => query.where({ for_team: true }).orWhere({ made_by: person }))
    .delete();
  return removed > 0;
}
