import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { readSettings, type Settings, SettingsError } from '@rough-ember/server/settings';
import { type Database, openDatabase } from '@rough-ember/store/database';
import { StartProblem } from './debian.ts';
import { type OwnMariadb, startMariadb } from './mariadb.ts';

/** Runs a command on the database of a data folder, whether a server is running on it or not. Gives the exit code. */
export async function onDataFolder(run: (settings: Settings, database: Database) => Promise<number>): Promise<number> {
  let mariadb: OwnMariadb | undefined;
  try {
    const settings = readSettings(process.env);
    if (!existsSync(settings.dataFolder))
      throw new StartProblem(`EMBER_DATA_DIR=${settings.dataFolder} does not exist; start the server first`);
    if (settings.databaseUrl === undefined)
      mariadb = await startMariadb({ folder: join(settings.dataFolder, 'mariadb'), port: settings.databasePort });
    const database = openDatabase(settings.databaseUrl ?? (mariadb as OwnMariadb).url);
    try {
      return await run(settings, database);
    } finally {
      await database.destroy();
    }
  } catch (error) {
    if (!(error instanceof StartProblem || error instanceof SettingsError)) throw error;
    console.error(error.message);
    return 1;
  } finally {
    // A server that is running needs its database further.
    if (mariadb && !mariadb.wasRunning) await mariadb.stop();
  }
}
