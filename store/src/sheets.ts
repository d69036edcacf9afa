import { type Database, inTransaction } from './database.ts';

/** Charts that are kept together, for whoever made them or for the team. */
export interface Sheet {
  readonly id: number;
  readonly appId: number;
  readonly title: string;
  readonly forTeam: boolean;
  /** As address parameters. */
  readonly scope: string;
  /** Their JSON, as it was checked when it was kept. */
  readonly charts: string;
  /** Higher after every change. */
  readonly revision: number;
  readonly isShared: boolean;
  readonly madeBy: string;
  readonly changedAt: Date;
}

export type SheetContent = Pick<Sheet, 'title' | 'forTeam' | 'scope' | 'charts'>;

const columns = [
  'id',
  'app_id as appId',
  'title',
  'for_team as forTeam',
  'scope',
  'charts',
  'revision',
  'link_hash as linkHash',
  'made_by as madeBy',
  'changed_at as changedAt',
];

type Row = Omit<Sheet, 'forTeam' | 'isShared'> & { readonly forTeam: number; readonly linkHash: Buffer | null };
const sheetOf = ({ linkHash, forTeam, ...row }: Row): Sheet => ({ ...row, forTeam: forTeam === 1, isShared: linkHash !== null });

/** Who asks, and of which app: a sheet that somebody keeps for themselves is nobody else's. */
export interface SheetReader {
  readonly appId: number;
  readonly person: string;
}

const seenBy = (database: Database, { appId, person }: SheetReader) =>
  database('sheets')
    .where({ app_id: appId })
    .where((query) => query.where({ for_team: true }).orWhere({ made_by: person }));

/** The sheets that somebody may see, by title. */
export async function listSheets(database: Database, reader: SheetReader): Promise<Sheet[]> {
  const rows: Row[] = await seenBy(database, reader).orderBy(['title', 'id']).select(columns);
  return rows.map(sheetOf);
}

export async function findSheet(database: Database, reader: SheetReader, id: number): Promise<Sheet | null> {
  const row: Row | undefined = await seenBy(database, reader).where({ id }).first(columns);
  return row ? sheetOf(row) : null;
}

/** A sheet whoever asks for it, as for a link or a rule of the team. */
export async function findSheetBy(
  database: Database,
  where: { readonly linkHash: Buffer } | { readonly id: number; readonly appId: number },
): Promise<Sheet | null> {
  const condition = 'linkHash' in where ? { link_hash: where.linkHash } : { id: where.id, app_id: where.appId };
  const row: Row | undefined = await database('sheets').where(condition).first(columns);
  return row ? sheetOf(row) : null;
}

const mostSheets = 200;

/** Keeps a sheet; null when the app has as many as it may have. */
export async function addSheet(
  database: Database,
  { appId, person }: SheetReader,
  { forTeam, ...content }: SheetContent,
): Promise<number | null> {
  const [row] = await database('sheets').where({ app_id: appId }).count({ count: '*' });
  if (Number(row?.count) >= mostSheets) return null;
  const [id] = await database('sheets').insert({ app_id: appId, made_by: person, for_team: forTeam, ...content });
  return id as number;
}

/** Puts another content in place of one; false when somebody else did so since that revision, or it is not there for them. */
export async function changeSheet(
  database: Database,
  reader: SheetReader,
  { id, revision }: Pick<Sheet, 'id' | 'revision'>,
  { forTeam, ...content }: SheetContent,
): Promise<boolean> {
  return inTransaction(database, async (transaction) => {
    const known = await seenBy(transaction, reader).where({ id, revision }).forUpdate().first('id');
    if (!known) return false;
    const changedAt = transaction.raw('UTC_TIMESTAMP(3)');
    await transaction('sheets')
      .where({ id })
      .update({ ...content, for_team: forTeam, revision: revision + 1, changed_at: changedAt });
    return true;
  });
}

/** Shares a sheet by the hash of a secret in place of the one before, or shares it no more; false when it is not there for them. */
export async function shareSheet(database: Database, reader: SheetReader, id: number, linkHash: Buffer | null): Promise<boolean> {
  const row = await seenBy(database, reader).where({ id }).first('id');
  if (!row) return false;
  await database('sheets').where({ id }).update({ link_hash: linkHash });
  return true;
}

export async function removeSheet(database: Database, reader: SheetReader, id: number): Promise<boolean> {
  return (await seenBy(database, reader).where({ id }).delete()) > 0;
}
