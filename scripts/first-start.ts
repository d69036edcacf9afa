import { chmodSync, existsSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { DemoApp } from '@rough-ember/demo/demo-app';
import { larkfieldApps, larkfieldGuide } from '@rough-ember/demo/larkfield';
import { issueIntakeKey, issueToken } from '@rough-ember/server/accounts/issue-credentials';
import { createOwner } from '@rough-ember/server/accounts/sign-in';
import type { Settings } from '@rough-ember/server/settings';
import type { RunningServer } from '@rough-ember/server/start-server';
import { createApp, findApp } from '@rough-ember/store/apps';
import { listIntakeKeys, listTokens, revokeToken } from '@rough-ember/store/credentials';
import type { Database } from '@rough-ember/store/database';
import { StartProblem } from './debian.ts';
import { type DemoSender, loadDemoApp, settled, withDemoSender } from './load-demo.ts';

/** Tells how far the demo is, on one line of a terminal, or a line for each quarter elsewhere. */
function showProgress(total: number): { add(count: number): void; end(): void } {
  const isTerminal = process.stdout.isTTY;
  let done = 0;
  let told = 0;
  return {
    add: (count) => {
      done += count;
      const percent = Math.min(100, Math.floor((100 * done) / Math.max(1, total)));
      if (percent < told + (isTerminal ? 1 : 25)) return;
      told = percent;
      const bar = '█'.repeat(percent / 5).padEnd(20, '·');
      if (isTerminal) process.stdout.write(`\r  ${bar} ${percent} %`);
      else console.log(`  ${percent} %`);
    },
    end: () => {
      if (isTerminal) process.stdout.write('\n');
    },
  };
}

/** How far the first start came; its secrets are shown once and kept as hashes alone. */
interface FirstStart {
  readonly email: string;
  readonly demoLoaded: boolean;
}

/** Makes the owner, and the demo once, and prints where to go and how to sign in. */
export async function welcome({ address, services }: RunningServer, settings: Settings, database: Database): Promise<void> {
  const file = join(settings.dataFolder, 'first-start.json');
  const keep = (next: FirstStart) => {
    writeFileSync(file, JSON.stringify(next, null, 2), { mode: 0o600 });
    chmodSync(file, 0o600);
  };
  const password = await createOwner(database, { email: settings.ownerEmail, name: settings.demo ? 'Ines' : 'Owner' });
  const shown: string[] = [];
  const show = (line: string) => {
    shown.push(line);
    // Whoever stops the start before its end has seen it all the same.
    console.log(line);
  };
  if (password !== null) {
    keep({ email: settings.ownerEmail, demoLoaded: false });
    show(`Sign in as ${settings.ownerEmail} with the password ${password}`);
  }
  const known = existsSync(file) ? (JSON.parse(readFileSync(file, 'utf8')) as FirstStart) : null;
  if (settings.demo && known && !known.demoLoaded) await loadDemo({ address, services }, settings, show);
  // Files of earlier versions held the secrets themselves.
  if (known) keep({ email: known.email, demoLoaded: known.demoLoaded || settings.demo });

  console.log(`\nRough Ember is at ${address}`);
  for (const line of shown) console.log(line);
  if (password !== null) console.log('Password and token are shown this once.');
  else if (known) console.log(`Sign in as ${known.email}; npm run new-password makes a new password if the one of the first start is lost`);
  console.log('Stop with Ctrl-C.\n');
}

/** Loads the apps of the demo that are not there in full, and shows the credentials of the first one. */
async function loadDemo(
  { address, services }: Pick<RunningServer, 'address' | 'services'>,
  settings: Settings,
  show: (line: string) => void,
) {
  console.log('Loading the Larkfield demo …');
  const progress = showProgress(settings.demoSessions);
  // Made one after the other, since the app that was made first is the one that people come to.
  const left: { demo: DemoApp; credentials: DemoCredentials }[] = [];
  for (const demo of larkfieldApps) {
    const credentials = await demoCredentials(services.database, demo);
    left.push({ demo, credentials });
    if (demo !== larkfieldGuide) continue;
    show(`Intake key of ${demo.app.name}: ${credentials.intakeKey}`);
    show(`Upload token of ${demo.app.name}: ${credentials.uploadToken}`);
  }
  const loadWhatIsLeft = async (sender: DemoSender) => {
    for (let next = left.shift(); next; next = left.shift())
      await loadDemoApp(
        services,
        next.demo,
        { address, ...next.credentials },
        { actor: settings.ownerEmail, sender, onSent: progress.add },
      );
  };
  // The first app is the largest; while one is made up, the server takes the other in.
  await Promise.all([1, 2].map(() => withDemoSender(loadWhatIsLeft)));
  await settled(services);
  progress.end();
}

const demoToken = 'build server';

interface DemoCredentials {
  readonly intakeKey: string;
  readonly uploadToken: string;
}

/** Makes an app of the demo with its key and token. What a start that was cut short has made is used again, its token replaced. */
async function demoCredentials(database: Database, demo: DemoApp): Promise<DemoCredentials> {
  const app = (await createApp(database, demo.app)) ?? (await findApp(database, demo.app.slug));
  if (!app) throw new StartProblem(`The demo cannot be loaded: another app has its prefix ${demo.app.prefix}; start with EMBER_DEMO=off`);
  const [[key], tokens] = await Promise.all([listIntakeKeys(database, app.id), listTokens(database, app.id)]);
  for (const { id, name, revokedAt } of tokens) if (name === demoToken && revokedAt === null) await revokeToken(database, app.id, id);
  return {
    intakeKey: key?.keyText ?? (await issueIntakeKey(database, { appId: app.id, name: 'phones' })),
    uploadToken: await issueToken(database, { appId: app.id, name: demoToken, scope: 'upload' }),
  };
}
