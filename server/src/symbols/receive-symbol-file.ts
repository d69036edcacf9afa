import { buildName } from '@rough-ember/core/report/limits';
import { detectSymbolFile } from '@rough-ember/core/symbols/detect';
import type { SymbolFileFormat } from '@rough-ember/core/symbols/readers';
import { formatOf } from '@rough-ember/core/symbols/readers';
import type { App } from '@rough-ember/store/apps';
import { storeSymbolFile } from '@rough-ember/store/symbol-file-states';
import type { SymbolFile } from '@rough-ember/store/symbol-files';
import { z } from 'zod';
import { ApiError } from '../errors.ts';
import { wordIssues } from '../intake/parse-batch.ts';
import type { Services } from '../services.ts';

/** Bytes that decide what kind of file it is. */
const headBytes = 64 * 1024;

/** What ties a symbol file to its build: the address parameters of an upload. */
export const symbolParametersSchema = z.object({
  version: buildName.or(z.literal('')).default(''),
  build: buildName.or(z.literal('')).default(''),
  name: z
    .string()
    .max(255)
    .default('symbols')
    .transform((name) => name.replace(/^.*[/\\]/, '') || 'symbols'),
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
  if (!parsed.success) throw new ApiError('bad-request', `The address parameters cannot be used: ${wordIssues(parsed.error)}.`);
  const { version, build, name } = parsed.data;
  if ((version === '') !== (build === ''))
    throw new ApiError('bad-request', 'Give "version" and "build" together, or neither for a file that carries its own id.');
  const detected = { format: null as SymbolFileFormat | null };
  const kept = await services.symbols.keep(
    checkedHead(chunks, name, (format) => {
      detected.format = format;
    }),
  );
  const stored = await storeSymbolFile(services.database, {
    appId: app.id,
    kind: formatOf(detected.format as SymbolFileFormat).kind,
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

/** Passes chunks on once the head of the file was seen to be that of a symbol file. */
async function* checkedHead(
  chunks: AsyncIterable<Buffer>,
  name: string,
  detected: (format: SymbolFileFormat) => void,
): AsyncGenerator<Buffer> {
  let head: Buffer | null = Buffer.alloc(0);
  for await (const chunk of chunks) {
    if (head === null) yield chunk;
    else {
      head = Buffer.concat([head, chunk]);
      if (head.length < headBytes) continue;
      detected(await detectFormat(head, name));
      yield head;
      head = null;
    }
  }
  if (head !== null) {
    detected(await detectFormat(head, name));
    yield head;
  }
}

async function detectFormat(head: Buffer, name: string): Promise<SymbolFileFormat> {
  const detected = await detectSymbolFile(head, name);
  if (!detected.ok) throw new ApiError('not-a-symbol-file', detected.problem.message);
  return detected.value;
}
