/**
 * Runs story.mjs with three releases of React, which write component stacks in three forms, into `recorded.json.gz`.
 *
 * Needs npm. Run with `npx tsx core/samples/component-stacks/record.ts`. Versions: react and react-test-renderer 16, 18 and 19; Node 20.
 */
import { execFileSync } from 'node:child_process';
import { cpSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { gzipSync } from 'node:zlib';

const here = fileURLToPath(new URL('.', import.meta.url));
const recorded = ['16', '18', '19'].map((release) => {
  const work = mkdtempSync(join(tmpdir(), 'components-'));
  writeFileSync(join(work, 'package.json'), '{"private":true}');
  execFileSync('npm', ['install', '--silent', `react@${release}`, `react-test-renderer@${release}`], { cwd: work, stdio: 'ignore' });
  cpSync(join(here, 'story.mjs'), join(work, 'story.mjs'));
  const told = execFileSync('node', ['story.mjs'], { cwd: work, encoding: 'utf8' });
  rmSync(work, { recursive: true });
  return { release, ...JSON.parse(told.replaceAll(`file://${work}/`, 'app/').replaceAll(`${work}/`, 'app/')) };
});
writeFileSync(join(here, 'recorded.json.gz'), gzipSync(JSON.stringify(recorded)));
