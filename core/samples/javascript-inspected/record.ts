/**
 * Lets Node print each error of stories.mjs in five ways, with what it really is, into `inspected.json.gz`. Recorded with Node 20.
 *
 * Run with `npx tsx core/samples/javascript-inspected/record.ts`.
 */
import { spawnSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { gzipSync } from 'node:zlib';

const here = fileURLToPath(new URL('.', import.meta.url));
const run = (...options: string[]) => spawnSync('node', ['stories.mjs', ...options], { cwd: here, encoding: 'utf8' });
const withoutPaths = (text: string) => text.replaceAll(`file://${here}`, 'app/').replaceAll(here, 'app/');
const recorded = (JSON.parse(run().stdout) as string[]).flatMap((name) =>
  ['inspect', 'log', 'object', 'stack', 'thrown'].map((how) => {
    const ran = run(name, how);
    return { name, how, text: withoutPaths(ran.stderr), truth: JSON.parse(withoutPaths(ran.stdout)) };
  }),
);
writeFileSync(`${here}inspected.json.gz`, gzipSync(JSON.stringify(recorded)));
