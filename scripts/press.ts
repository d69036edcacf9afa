import { mkdirSync } from 'node:fs';
import { resolve } from 'node:path';
import { buttonApps, isBuildable, press } from '@rough-ember/demo/button-apps';

const usage = (): string =>
  [
    'EMBER_INTAKE_KEY=intake_… npm run press -- <runtime> <button>',
    'Builds a small app of the demo, presses a button in it, and starts it again, which sends what it kept.',
    'EMBER_SERVER names the server; http://127.0.0.1:4310 unless told.',
    ...buttonApps.map((app) => `  ${app.runtime.padEnd(12)}${app.buttons.map(({ name }) => name).join(', ')}`),
  ].join('\n');

/** `npm run press -- jvm hang`: a real crash of a real runtime, as a newcomer may want to see one. */
export async function main([runtime, button]: readonly string[]): Promise<number> {
  const { EMBER_SERVER: server = 'http://127.0.0.1:4310', EMBER_INTAKE_KEY: key } = process.env;
  const app = buttonApps.find((one) => one.runtime === runtime);
  if (!app || key === undefined || !app.buttons.some(({ name }) => name === button)) {
    console.error(usage());
    return 2;
  }
  if (!isBuildable(app)) {
    console.error(`${app.runtime} takes ${app.needs.join(', ')}: install what is missing, with Debian by apt-get.`);
    return 1;
  }
  const folder = resolve('dist/buttons', app.runtime);
  mkdirSync(folder, { recursive: true });
  const command = app.build(folder);
  const reporting = { server, key, version: '7.0.0' };
  const kept = { folder: resolve(folder, 'kept'), show: true };
  const { code, signal } = await press(command, reporting, { ...kept, button: button as string });
  console.log(`It ended with ${signal ?? code}; starting it again …`);
  await press(command, reporting, { ...kept, button: 'none' });
  console.log(`Look at the cases of version 7.0.0 at ${server}.`);
  return 0;
}
