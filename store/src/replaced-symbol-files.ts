import { familyOf, type SymbolFileKind, symbolFileKinds } from '@rough-ember/core/symbols/families';
import type { Database } from './database.ts';
import { listSymbolParts, type SymbolFile, type SymbolPart, sendRoundAgain } from './symbol-files.ts';

/** Kinds of which a build has one file for each name. */
export const buildTiedKinds: readonly SymbolFileKind[] = symbolFileKinds.filter((kind) => familyOf(kind).isOfBuild);

type Tied = Pick<SymbolPart, 'kind' | 'name'>;
const tieOf = ({ kind, name }: Tied): string => `${kind}\n${name ?? ''}`;

/**
 * Lets a file that is ready take the place of the others for the same build: they are kept, marked as replaced, and used no more for
 * frames that print no id. A file that was uploaded later stays in its place. Gives whether anything was replaced.
 */
export async function takePlace(
  transaction: Database,
  file: SymbolFile,
  parts: readonly Tied[],
  { evenOfLater = false } = {},
): Promise<boolean> {
  const ties = new Set(parts.filter((part) => buildTiedKinds.includes(part.kind)).map(tieOf));
  if (file.version === '' || ties.size === 0) return false;
  // Two files of one build that become ready at once wait for each other here.
  const { appId, version, build } = file;
  const rivals: { id: number }[] = await transaction('symbol_files')
    .where({ app_id: appId, version, build, state: 'ready' })
    .whereNot({ id: file.id })
    .orderBy('id')
    .forUpdate()
    .select('id');
  let replaced = false;
  for (const { id } of rivals) {
    const theirs = (await listSymbolParts(transaction, appId, id)).get(id) ?? [];
    if (!theirs.some((part) => ties.has(tieOf(part)))) continue;
    const [stays, goes] = evenOfLater || id < file.id ? [file.id, id] : [id, file.id];
    await transaction('symbol_files').where({ id: goes }).update({ state: 'replaced', replaced_by: stays });
    replaced = true;
  }
  return replaced;
}

/** Puts a replaced file back in its place; reports of its build are named again. Gives how many go round. */
export async function putBackSymbolFile(transaction: Database, file: SymbolFile): Promise<number> {
  const parts = (await listSymbolParts(transaction, file.appId, file.id)).get(file.id) ?? [];
  await transaction('symbol_files').where({ id: file.id, state: 'replaced' }).update({ state: 'ready', replaced_by: null });
  await takePlace(transaction, file, parts, { evenOfLater: true });
  return sendRoundAgain(transaction, file, parts, null);
}

/** Lets the file that one had replaced last come back when that one is deleted, unless it was replaced itself by then. */
export async function bringBackReplaced(transaction: Database, deleted: SymbolFile): Promise<void> {
  const ofDeleted = () => transaction('symbol_files').where({ replaced_by: deleted.id });
  if (deleted.state === 'replaced') {
    await ofDeleted().update({ replaced_by: deleted.replacedBy });
    return;
  }
  const last = await ofDeleted().where({ state: 'replaced' }).orderBy('id', 'desc').first('id');
  if (!last) return;
  await transaction('symbol_files').where({ id: last.id }).update({ state: 'ready', replaced_by: null });
  await ofDeleted().update({ replaced_by: last.id });
}

/** The other builds of an app that have a file of the same content, which only its build ties. */
export async function otherBuildsOfContent(
  database: Database,
  { id, appId, kind, sha256, version, build }: SymbolFile,
): Promise<{ readonly version: string; readonly build: string }[]> {
  if (version === '' || !buildTiedKinds.includes(kind)) return [];
  return database('symbol_files')
    .where({ app_id: appId, sha256 })
    .whereNot({ id })
    .whereNot({ version: '' })
    .whereNot((same) => same.where({ version, build }))
    .whereIn('state', ['ready', 'indexing'])
    .orderBy('version_key')
    .distinct('version', 'build', 'version_key')
    .then((rows: { version: string; build: string }[]) => rows.map((row) => ({ version: row.version, build: row.build })));
}
