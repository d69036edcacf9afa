import { operation } from '../operation/operation.ts';

/** What apps and build servers install from this very server. */
export const downloadOperations = [
  operation('GET /downloads', {
    does: 'The packages that this server hands out at /downloads/{version}/{file}, with their checksums.',
    right: 'anybody',
    run: ({ services }) => services.downloads.files,
  }),
] as const;
