/** Commands that are run as they were built. */
export const commands: readonly string[];
/** Builds the server, its threads and its commands, unless that is done; gives the folder, whose name names this state of the program. */
export function buildProgram(): Promise<string>;
/** Builds the same for development: into one folder, again and again; `rebuild` gives null, or what does not compile. */
export function watchProgram(): Promise<{ readonly folder: string; rebuild(): Promise<string | null>; end(): Promise<void> }>;
