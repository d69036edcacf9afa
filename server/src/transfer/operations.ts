import { z } from 'zod';
import { operation } from '../operation/operation.ts';
import { describeParts, requirePart, streamPart } from './transfer.ts';

/** Taking along everything of an app; taking it in is a raw route, since its bodies are large. */
export const transferOperations = [
  operation('GET /apps/{app}/transfer', {
    does: 'The parts that everything of an app is taken along in, in their order, with the form of their lines.',
    right: 'read',
    run: () => ({ parts: describeParts() }),
  }),
  operation('GET /apps/{app}/transfer/{part}', {
    does: 'The lines of a part, as they are read; behind each page a line with the cursor from which one may go on.',
    right: 'change',
    parameters: z.object({ after: z.string().max(300).default('').describe('A cursor; lines that come after it are told.') }),
    produces: 'application/x-ndjson',
    run: ({ services, app, path, parameters }) => streamPart(services.database, app, requirePart(path.part), parameters.after),
  }),
] as const;
