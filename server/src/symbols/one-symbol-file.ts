import { createReadStream } from 'node:fs';
import { Readable } from 'node:stream';
import type { App } from '@rough-ember/store/apps';
import { inTransaction } from '@rough-ember/store/database';
import { otherBuildsOfContent, putBackSymbolFile } from '@rough-ember/store/replaced-symbol-files';
import { deleteSymbolFile } from '@rough-ember/store/symbol-file-states';
import { findSymbolFile, findSymbolFileOfContent, listSymbolParts, type SymbolFile } from '@rough-ember/store/symbol-files';
import { z } from 'zod';
import { ApiError } from '../errors.ts';
import type { Services } from '../services.ts';
import { type SymbolFileView, toSymbolFileView } from './symbol-overview.ts';

async function requireFile({ database }: Pick<Services, 'database'>, app: App, id: number): Promise<SymbolFile> {
  const file = await findSymbolFile(database, id);
  if (!file || file.appId !== app.id) throw new ApiError('not-found', `There is no symbol file of this number in ${app.name}.`);
  return file;
}

/** One file and how far it is. */
export async function loadSymbolFile(services: Pick<Services, 'database'>, app: App, id: number): Promise<SymbolFileView> {
  const file = await requireFile(services, app, id);
  const parts = await listSymbolParts(services.database, app.id, file.id);
  const alsoOf = await otherBuildsOfContent(services.database, file);
  return toSymbolFileView(file, parts.get(file.id) ?? [], { alsoOf });
}

/** The bytes of a file, as they were uploaded. */
export async function readSymbolContent(services: Pick<Services, 'database' | 'symbols'>, app: App, id: number): Promise<Response> {
  const { sha256, sizeBytes, fileName } = await requireFile(services, app, id);
  if (!(await services.symbols.has(sha256))) throw new ApiError('not-found', `The file ${fileName} is not on the disk of this server.`);
  const content = Readable.toWeb(createReadStream(services.symbols.originalPath(sha256))) as unknown as ReadableStream;
  return new Response(content, {
    headers: { 'content-type': 'application/octet-stream', 'content-length': String(sizeBytes), 'cache-control': 'no-store' },
  });
}

export const knownFileSchema = z.object({
  sha256: z.string().regex(/^[0-9a-f]{64}$/),
  version: z.string().max(100).default(''),
  build: z.string().max(100).default(''),
});

/** The file with a content for a build; null when there is none that could be used. */
export async function findKnownFile(
  { database, symbols }: Pick<Services, 'database' | 'symbols'>,
  app: App,
  { sha256, version, build }: z.output<typeof knownFileSchema>,
): Promise<SymbolFileView | null> {
  const content = Buffer.from(sha256, 'hex');
  const recorded = await findSymbolFileOfContent(database, { appId: app.id, version, build, sha256: content });
  // A file that is gone from disk has to be sent again; one that was replaced is put back by being sent again.
  const file = recorded && recorded.state !== 'replaced' && (await symbols.has(content)) ? recorded : null;
  const parts = file && (await listSymbolParts(database, app.id, file.id));
  return file && toSymbolFileView(file, parts?.get(file.id) ?? []);
}

type Changing = Pick<Services, 'database' | 'jobs' | 'changes'>;

/** Deletes a file; the disk is freed once no app refers to its content. Gives how many reports go round again. */
export async function dropSymbolFile(services: Changing, app: App, id: number): Promise<{ readonly reports: number }> {
  const reports = await deleteSymbolFile(services.database, await requireFile(services, app, id));
  services.jobs.wake();
  services.changes.note(app.id);
  return { reports };
}

/** Uses a file again that a later one of its build had replaced; one in use stays so. Gives how many reports go round again. */
export async function putBack(services: Changing, app: App, id: number): Promise<{ readonly reports: number }> {
  const file = await requireFile(services, app, id);
  const isReplaced = file.state === 'replaced';
  const reports = isReplaced ? await inTransaction(services.database, (transaction) => putBackSymbolFile(transaction, file)) : 0;
  services.jobs.wake();
  services.changes.note(app.id);
  return { reports };
}
