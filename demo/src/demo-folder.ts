import { createRequire } from 'node:module';
import { pathToFileURL } from 'node:url';

/** The folder of what the demo's builds made, wherever the program that asks runs from. */
export const demoFolder: URL = new URL('./', pathToFileURL(createRequire(import.meta.url).resolve('@rough-ember/demo/package.json')));
