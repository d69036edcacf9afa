import { buildName } from '@rough-ember/core/report/limits';
import { detectHeadBytes, detectMapping } from '@rough-ember/core/symbols/mapping/detect';
import type { App } from '@rough-ember/store/apps';
import { type SymbolFile, storeSymbolFile } from '@rough-ember/store/symbol-files';
import { z } from 'zod';
import { ApiError } from '../errors.ts';
import { wordIssues } from '../intake/parse-batch.ts';
import type { Services } from '../services.ts';

/** What ties a symbol file to its build: the address parameters of an upload. */
export const symbolParametersSchema = z.object({
  version: buildName,
  build: buildName,
  name: z
    .string()
    .max(255)
    .default('mapping.txt')
    .transform((name) => name.replace(/^.*[/\\]/, '') || 'mapping.txt'),
});

/** Takes an uploaded symbol file: looks at its head first, keeps it, and queues its indexing. */
export async function receiveSymbolFile(
  services: Services,
  {
    app,
    uploadedBy,
    chunks,
    parameters,
  }: { app: App; uploadedBy: string; chunks: AsyncIterable<Buffer>; parameters: Readonly<Record<string, string>> },
): Promise<{ file: SymbolFile; isNew: boolean }> {
  const parsed = symbolParametersSchema.safeParse(parameters);
  if (!parsed.success)
    throw new ApiError(
      'bad-request',
      `The address parameters cannot be used: ${wordIssues(parsed.error)}. "version" and "build" must be given.`,
    );
  const { version, build, name } = parsed.data;
  const kept = await services.symbols.keep(checkedHead(chunks));
  const stored = await storeSymbolFile(services.database, {
    appId: app.id,
    kind: 'mapping',
    version,
    build,
    ...kept,
    fileName: name,
    uploadedBy,
  });
  services.jobs.wake();
  services.changes.note(app.id);
  return stored;
}

/** Passes chunks on once the head of the file was seen to be that of a mapping. */
async function* checkedHead(chunks: AsyncIterable<Buffer>): AsyncGenerator<Buffer> {
  let head: Buffer | null = Buffer.alloc(0);
  for await (const chunk of chunks) {
    if (head === null) yield chunk;
    else {
      head = Buffer.concat([head, chunk]);
      if (head.length < detectHeadBytes) continue;
      checkHead(head);
      yield head;
      head = null;
    }
  }
  if (head !== null) {
    checkHead(head);
    yield head;
  }
}

function checkHead(head: Buffer): void {
  const detected = detectMapping(head);
  if (!detected.ok) throw new ApiError('not-a-symbol-file', detected.problem.message);
}
