/** Builds the packages that a server hands out, unless that is done; gives their folder. */
export function buildPackages(): Promise<string>;
