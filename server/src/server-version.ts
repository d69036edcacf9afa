import own from '../package.json' with { type: 'json' };

/** The version of this server and of everything that it hands out. */
export const serverVersion: string = own.version;
