import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { z } from 'zod';

const downloadSchema = z.object({
  /** Name of the file, without its version, which the address has. */
  file: z.string().regex(/^[\w.-]+$/),
  /** As it is installed. */
  name: z.string(),
  what: z.string(),
  version: z.string().regex(/^[\w.-]+$/),
  bytes: z.int(),
  /** Of the bytes, in hexadecimal. */
  sha256: z.string(),
});
export type Download = z.infer<typeof downloadSchema>;

/** What this server hands out for apps and build servers; it is of the server's own version. */
export interface Downloads {
  readonly files: readonly Download[];
  /** The bytes by the names of files, SHA256SUMS among them; all together less than a megabyte. */
  readonly contents: ReadonlyMap<string, Buffer>;
}

/** Opens the folder that the build made; nothing is handed out where there is none. */
export function openDownloads(folder: string | undefined): Downloads {
  if (folder === undefined || !existsSync(join(folder, 'index.json'))) return { files: [], contents: new Map() };
  const files = z.array(downloadSchema).parse(JSON.parse(readFileSync(join(folder, 'index.json'), 'utf8')));
  const names = [...files.map(({ file }) => file), 'SHA256SUMS'];
  return { files, contents: new Map(names.map((name) => [name, readFileSync(join(folder, name))])) };
}
