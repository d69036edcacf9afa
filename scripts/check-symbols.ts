import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { readSettings, SettingsError } from '@rough-ember/server/settings';
import { checkSymbols } from '@rough-ember/server/symbols/check-symbols';
import { openSymbolStore } from '@rough-ember/server/symbols/symbol-store';
import { openDatabase } from '@rough-ember/store/database';
import { StartProblem } from './debian.ts';
import { type OwnMariadb, startMariadb } from './mariadb.ts';

/** `npm run check-symbols`: reads every symbol file on disk and says which are damaged; ends with 1 when one cannot be mended. */
export async function main(): Promise<number> {
  let mariadb: OwnMariadb | undefined;
  try {
    const settings = readSettings(process.env);
    if (!existsSync(settings.dataFolder))
      throw new StartProblem(`EMBER_DATA_DIR=${settings.dataFolder} does not exist; start the server first`);
    if (settings.databaseUrl === undefined)
      mariadb = await startMariadb({ folder: join(settings.dataFolder, 'mariadb'), port: settings.databasePort });
    const database = openDatabase(settings.databaseUrl ?? (mariadb as OwnMariadb).url);
    try {
      const symbols = await openSymbolStore(join(settings.dataFolder, 'symbols'));
      const { contents, sizeBytes, faults } = await checkSymbols(database, symbols, (done, all) => {
        if (process.stderr.isTTY) process.stderr.write(`\r${done} of ${all} files read`);
      });
      for (const { fileName, sha256, problem } of faults) console.log(`${fileName} (${sha256.slice(0, 12)}): ${problem}`);
      const lost = faults.filter((fault) => !fault.mended).length;
      console.log(`${contents} files with ${sizeBytes} bytes were read; ${faults.length} had faults, ${lost} of them remain.`);
      return lost > 0 ? 1 : 0;
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
