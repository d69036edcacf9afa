/** Does what a situation asks of an app: situations <server> <key> <folder> <what>. */
import { setTimeout as pause } from 'node:timers/promises';
import { fileStorage } from '../src/file-storage.ts';
import { type Collector, startCollector } from '../src/index.ts';

const [server = '', key = '', folder = '', what = ''] = process.argv.slice(2);
const states: Readonly<Record<string, () => { zoom: number }>> = {
  'state-fails': () => {
    throw new Error('no state');
  },
  'state-reports': () => {
    collector.report(new Error('within the state'));
    return { zoom: 14 };
  },
};
const stateAtCrash = states[what];
const collector: Collector = startCollector({
  server,
  key,
  version: '4.3.0',
  build: '430',
  buildType: what === 'debug' ? 'debug' : 'release',
  personId: 'warden-7',
  storage: fileStorage(folder),
  ...(stateAtCrash && { stateAtCrash }),
});
collector.screen('Map');
if (what === 'crash-slowly') await pause(150);
if (what === 'crash' || what === 'crash-slowly') throw new Error('no perch');
if (what === 'trail') for (let at = 0; at < 10_000; at++) collector.screen(`screen ${at}`);
if (what === 'many') for (let at = 0; at < 100; at++) collector.report(new Error(`perch ${at}`));
else if (what === 'long') collector.report(new Error('x'.repeat(1_000_000)));
else if (what !== 'well') collector.report(new Error('no perch'));
await collector.stop();
process.exit(0);
