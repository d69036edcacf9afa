/** Builds the pages, unless that is done; gives their folder. */
export function buildPages(): Promise<string>;
