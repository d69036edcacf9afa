import type { UrlStorage } from 'tus-js-client';

/** Exported by the package for Node, but missing from its types. */
declare module 'tus-js-client' {
  export const FileUrlStorage: new (path: string) => UrlStorage;
}
