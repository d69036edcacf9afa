import { toSymbolFileView } from '@rough-ember/server/symbols/symbol-overview';
import { findSymbolFileOfContent, listSymbolParts } from '@rough-ember/store/symbol-files';
import type { APIRoute } from 'astro';
import { z } from 'zod';
import { json, readParameters, requireUploader } from '../../../../../../server-side';

const parametersSchema = z.object({
  sha256: z.string().regex(/^[0-9a-f]{64}$/),
  version: z.string().max(100).default(''),
  build: z.string().max(100).default(''),
});

/** The file with this content for this build, so that an uploader need not send it again; null when there is none. */
export const GET: APIRoute = async (context) => {
  const app = await requireUploader(context);
  const { sha256, version, build } = readParameters(context, parametersSchema);
  const { database, symbols } = context.locals.services;
  const content = Buffer.from(sha256, 'hex');
  const recorded = await findSymbolFileOfContent(database, { appId: app.id, version, build, sha256: content });
  // A file that is gone from disk has to be sent again; one that was replaced is put back by being sent again.
  const file = recorded && recorded.state !== 'replaced' && (await symbols.has(content)) ? recorded : null;
  const parts = file && (await listSymbolParts(database, app.id, file.id));
  return json({ file: file && toSymbolFileView(file, parts?.get(file.id) ?? []) });
};
