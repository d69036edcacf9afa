/**
 * Rebuilds everything under demo/larkfield-guide/builds from the sources beside it: compiles each version,
 * obfuscates it, runs the obfuscated program for its crash texts and the plain one for the expected frames.
 *
 * Needs javac, java, zip, unzip and Debian's proguard-cli. Run with `npx tsx demo/src/build-larkfield-guide.ts`.
 */
import { execFileSync, spawnSync } from 'node:child_process';
import { cpSync, mkdirSync, mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { guideBuilds } from './guide-builds.ts';
import { makeLibrary } from './java-library.ts';

const guide = fileURLToPath(new URL('../larkfield-guide/', import.meta.url));
const work = mkdtempSync(join(tmpdir(), 'larkfield-'));
const run = (program: string, ...args: string[]) => execFileSync(program, args, { cwd: work, stdio: ['ignore', 'ignore', 'inherit'] });

/** What the program prints on standard error when the screen goes wrong. */
function crashText(jar: string, screen: string): string {
  const ran = spawnSync('java', ['-Xshare:auto', '-cp', jar, 'com.larkfield.guide.Guide', screen], { encoding: 'utf8' });
  if (!ran.stderr.includes('Exception in thread')) throw new Error(`${screen} did not crash:\n${ran.stdout}${ran.stderr}`);
  return ran.stderr;
}

const library = makeLibrary(work);
const sources = join(work, 'sources');
for (const build of guideBuilds) {
  cpSync(join(guide, 'sources', build.version), sources, { recursive: true });
  const classes = join(work, `classes-${build.version}`);
  const files = readdirSync(sources, { recursive: true, encoding: 'utf8' }).filter((name) => name.endsWith('.java'));
  run('javac', '-Xlint:-options', '-g:source,lines', '--release', '8', '-d', classes, ...files.map((name) => join(sources, name)));

  const folder = join(guide, 'builds', build.version);
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(join(folder, 'crashes'), { recursive: true });
  mkdirSync(join(folder, 'expected'));
  const jar = join(work, `guide-${build.version}.jar`);
  run(
    'proguard',
    `@${join(guide, 'shrink.pro')}`,
    '-injars',
    classes,
    '-outjars',
    jar,
    '-libraryjars',
    library,
    '-printmapping',
    join(folder, 'mapping.txt'),
  );
  for (const screen of build.screens) {
    writeFileSync(join(folder, 'crashes', `${screen}.txt`), crashText(jar, screen));
    writeFileSync(join(folder, 'expected', `${screen}.txt`), crashText(classes, screen));
  }
}
rmSync(work, { recursive: true });
