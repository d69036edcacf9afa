/** Does what a situation asks of an app: situations <server> <key> <folder> <what>. */
import { setTimeout as pause } from 'node:timers/promises';
import { fileStorage } from '../src/file-storage.ts';
import { type Collector, type CollectorOptions, startCollector } from '../src/index.ts';

/** What a situation changes of the options. */
function settingsOf(situation: string): Partial<CollectorOptions> {
  if (situation === 'sampled') return { sample: { error: 0.5 } };
  if (situation === 'told-trail') return { sample: { trail: 1 } };
  if (situation === 'untold-trail') return { sample: { trail: 0 } };
  if (situation === 'crash-sampled-out') return { sample: { crash: 0 } };
  if (situation === 'scrubbed')
    return {
      beforeSend: (item) =>
        JSON.stringify(item).includes('secret') ? null : JSON.parse(JSON.stringify(item).replaceAll('warden-7', 'somebody')),
    };
  if (situation === 'scrubbing-fails')
    return {
      beforeSend: () => {
        throw new Error('no scrubbing');
      },
    };
  if (situation === 'dry') return { dryRun: true };
  return situation === 'all' ? { circumstances: () => ({ device: { model: 'Tarn Go 3', batteryPercent: 41 }, network: 'wifi' }) } : {};
}

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
if (what === 'bare') process.exit(0);
const collectGarbage = (globalThis as { gc?: () => void }).gc ?? (() => {});
const heapBytes = () => {
  collectGarbage();
  return process.memoryUsage().heapUsed;
};
const heapBefore = what === 'cost' ? heapBytes() : 0;
const began = performance.now();
const collector: Collector = startCollector({
  server,
  key,
  version: '4.3.0',
  build: '430',
  buildType: what === 'debug' ? 'debug' : 'release',
  personId: 'warden-7',
  storage: fileStorage(folder),
  ...(stateAtCrash && { stateAtCrash }),
  ...settingsOf(what),
});
const startMs = performance.now() - began;
collector.screen('Map');
if (what === 'cost') {
  const calls = 2_000;
  const beganCalls = performance.now();
  for (let at = 0; at < calls; at++) collector.screen(`screen ${at % 20}`);
  const screenUs = (1_000 * (performance.now() - beganCalls)) / calls;
  const beganReport = performance.now();
  collector.report(new Error('no perch'));
  const reportMs = performance.now() - beganReport;
  console.info(JSON.stringify({ startMs, screenUs, reportMs, bytes: heapBytes() - heapBefore }));
  process.exit(0);
}
if (what === 'all') {
  collector.person('warden-9');
  collector.contact('warden@larkfield.example');
  collector.flag('night-map', 'on');
  collector.attribute('layers', ['night', 'tracks']);
  collector.attribute('zoom', 14);
  console.warn('few tiles');
  collector.note('export', { rows: 12 });
  await fetch('http://127.0.0.1:9/t/14?user=7').catch(() => {});
  collector.lifecycle('low-memory');
}
if (what === 'crash-slowly') await pause(150);
if (what.startsWith('crash')) throw new Error('no perch');
if (what === 'trail') for (let at = 0; at < 10_000; at++) collector.screen(`screen ${at}`);
if (what === 'many') for (let at = 0; at < 100; at++) collector.report(new Error(`perch ${at}`));
else if (what === 'sampled') for (let at = 0; at < 40; at++) collector.report(new Error(`perch ${at}`));
else if (what === 'long') collector.report(new Error('x'.repeat(1_000_000)));
else if (what !== 'well') collector.report(new Error('no perch'));
if (what === 'scrubbed') collector.report(new Error('secret'));
await collector.stop();
process.exit(0);
