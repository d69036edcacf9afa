import { type App, findAppById } from '@rough-ember/store/apps';
import type { Database } from '@rough-ember/store/database';
import { listFilterable } from '@rough-ember/store/filterable-attributes';
import { readRules } from '@rough-ember/store/grouping-changes';
import { type FoundFile, findSymbolFiles } from '@rough-ember/store/symbol-files';
import type { SymbolFilePaths } from '../symbols/index-file-on-disk.ts';
import type { SymbolPlaces } from '../symbols/symbol-store.ts';
import type { TiedIndex } from './tasks.ts';

export const pathsIn = (places: SymbolPlaces, { sha256, fileName }: Pick<FoundFile, 'sha256' | 'fileName'>): SymbolFilePaths => ({
  originalPath: places.originalPath(sha256),
  indexPath: places.indexPath(sha256),
  fileName,
});

/** Finds apps and symbol files, each asked for once in a batch. */
export class SymbolFinder {
  private readonly apps = new Map<number, Promise<App>>();
  private readonly found = new Map<string, Promise<TiedIndex[]>>();
  private readonly attributes = new Map<number, Promise<string[]>>();
  private readonly rules = new Map<number, Promise<string>>();

  constructor(
    private readonly database: Database,
    private readonly places: SymbolPlaces,
  ) {}

  app(id: number): Promise<App> {
    return remember(this.apps, id, async () => {
      const app = await findAppById(this.database, id);
      if (!app) throw new Error(`there is no app ${id}`);
      return app;
    });
  }

  /** The attributes that an app has made filterable. */
  filterable(appId: number): Promise<string[]> {
    return remember(this.attributes, appId, () => listFilterable(this.database, appId));
  }

  /** The grouping rules of an app, as they are written. */
  groupingRules(appId: number): Promise<string> {
    return remember(this.rules, appId, () => readRules(this.database, appId));
  }

  /** All indexes that may symbolicate a report: those of its build, and those with an id that its frames or images print. */
  files(appId: number, { version, build }: { version: string; build: string }, body: string): Promise<TiedIndex[]> {
    const symbolIds = [...new Set([...body.matchAll(printedId)].map((match) => (match[1] ?? match[2] ?? match[3]) as string))].sort();
    const wanted = { appId, version, build, symbolIds };
    return remember(this.found, JSON.stringify(wanted), async () => {
      const files = await findSymbolFiles(this.database, wanted);
      return files.map(({ sha256, fileName, ...tied }) => ({ ...tied, paths: pathsIn(this.places, { sha256, fileName }) }));
    });
  }
}

/** Ids as they stand in a stored report: of images, frames and modules, and the one an obfuscator puts in place of a file. */
const printedId = /"symbolId":"([0-9a-fA-F-]{1,200})"|"r8-map-id-([0-9a-fA-F]{1,200})"|"module":"([0-9a-fA-F]{32})[#"]/g;

function remember<Key, Value>(known: Map<Key, Promise<Value>>, key: Key, find: () => Promise<Value>): Promise<Value> {
  let value = known.get(key);
  if (!value) {
    value = find();
    known.set(key, value);
  }
  return value;
}
