import { operation, rowNumber } from '../operation/operation.ts';
import { readSourceLines, sourcePlaceSchema } from '../sources/source-lines.ts';
import { dropSymbolFile, findKnownFile, knownFileSchema, loadSymbolFile, putBack, readSymbolContent } from './one-symbol-file.ts';
import { loadSymbolOverview } from './symbol-overview.ts';

/** Symbol files once they are there; `symbol-upload-routes.ts` takes them. */
export const symbolOperations = [
  operation('GET /apps/{app}/symbol-files', {
    does: 'What running builds need of symbol files, and which files are there.',
    right: 'read',
    run: ({ services, app }) => loadSymbolOverview(services.database, app),
  }),
  operation('GET /apps/{app}/symbol-files/known', {
    does: 'The file with this content for this build, so that an uploader need not send it again; null when there is none.',
    right: 'upload',
    parameters: knownFileSchema,
    run: async ({ services, app, parameters }) => ({ file: await findKnownFile(services, app, parameters) }),
  }),
  operation('GET /apps/{app}/symbol-files/{id}', {
    does: 'One symbol file and how far it is; whoever uploaded it waits on this.',
    right: 'upload',
    run: ({ services, app, path }) => loadSymbolFile(services, app, rowNumber(path.id)),
  }),
  operation('GET /apps/{app}/symbol-files/{id}/content', {
    does: 'The bytes of a symbol file, as they were uploaded.',
    right: 'change',
    produces: 'application/octet-stream',
    run: ({ services, app, path }) => readSymbolContent(services, app, rowNumber(path.id)),
  }),
  operation('DELETE /apps/{app}/symbol-files/{id}', {
    does: 'Deletes a symbol file; reports it named are named again.',
    right: 'change',
    run: ({ services, app, path }) => dropSymbolFile(services, app, rowNumber(path.id)),
  }),
  operation('POST /apps/{app}/symbol-files/{id}/put-back', {
    does: 'Uses a file again that a later one of its build had replaced; reports of the build are named again.',
    right: 'change',
    run: ({ services, app, path }) => putBack(services, app, rowNumber(path.id)),
  }),
  operation('GET /apps/{app}/source', {
    does: 'Lines of source around the place of a frame, from the source folder of the app.',
    right: 'read',
    parameters: sourcePlaceSchema,
    run: ({ services, app, parameters }) => readSourceLines(services, app, parameters),
  }),
] as const;
