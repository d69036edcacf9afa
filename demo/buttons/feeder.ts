/** The feeder camera's web view with a button for each way to fail: feeder <server> <key> <folder> <version> <button>. */
import { fileStorage } from '../../collector/src/file-storage.ts';
import { startCollector } from '../../collector/src/index.ts';

const [server = '', key = '', folder = '', version = '', button = ''] = process.argv.slice(2);
const collector = startCollector({ server, key, version, build: '1', storage: fileStorage(folder) });

const openFeed = (camera: { address?: { host: string } }): string => (camera.address as { host: string }).host;

function loadClips(feeder: string): string {
  try {
    return openFeed({});
  } catch (cause) {
    throw new Error(`no clips of ${feeder}`, { cause });
  }
}

collector.screen('Feeders');
if (button === 'uncaught') openFeed({});
if (button === 'with-cause') loadClips('hazel');
if (button === 'rejection') void Promise.reject(new RangeError('nobody waits for the clip'));
if (button === 'handled')
  try {
    loadClips('hazel');
  } catch (error) {
    collector.report(error);
  }
// Node ends a program for a rejection that nobody hears; this one goes on, as a web view would.
process.on('unhandledRejection', (reason) => collector.report(reason));
await new Promise((resolve) => setTimeout(resolve, 50));
await collector.stop();
process.exit(0);
