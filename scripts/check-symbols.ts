import { join } from 'node:path';
import { checkSymbols } from '@rough-ember/server/symbols/check-symbols';
import { openSymbolStore } from '@rough-ember/server/symbols/symbol-store';
import { onDataFolder } from './on-data-folder.ts';

/** `npm run check-symbols`: reads every symbol file on disk and says which are damaged; ends with 1 when one cannot be mended. */
export const main = (): Promise<number> =>
  onDataFolder(async (settings, database) => {
    const symbols = await openSymbolStore(join(settings.dataFolder, 'symbols'));
    const { contents, sizeBytes, faults } = await checkSymbols(database, symbols, (done, all) => {
      if (process.stderr.isTTY) process.stderr.write(`\r${done} of ${all} files read`);
    });
    for (const { fileName, sha256, problem } of faults) console.log(`${fileName} (${sha256.slice(0, 12)}): ${problem}`);
    const lost = faults.filter((fault) => !fault.mended).length;
    console.log(`${contents} files with ${sizeBytes} bytes were read; ${faults.length} had faults, ${lost} of them remain.`);
    return lost > 0 ? 1 : 0;
  });
