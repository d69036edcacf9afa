/**
 * Rebuilds everything under demo/larkfield-guide/builds from the sources beside it: compiles each version,
 * obfuscates it, runs the obfuscated program for its crash texts and the plain one for the expected frames.
 *
 * Needs javac, java, zip, unzip and Debian's proguard-cli. Run with `npx tsx demo/src/build-larkfield-guide.ts`.
 */
import { execFileSync, spawnSync } from 'node:child_process';
import { cpSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, realpathSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { guideBuilds } from './guide-builds.ts';

const guide = fileURLToPath(new URL('../larkfield-guide/', import.meta.url));
const work = mkdtempSync(join(tmpdir(), 'larkfield-'));
const javaEightClassVersion = 52;
const run = (program: string, ...args: string[]) => execFileSync(program, args, { cwd: work, stdio: ['ignore', 'ignore', 'inherit'] });

/** The API of Java 8 as class files; the JDK ships it for `javac --release`, and the obfuscator can read no newer one. */
function makeLibrary(): string {
  const jdk = dirname(dirname(realpathSync(execFileSync('which', ['javac'], { encoding: 'utf8' }).trim())));
  run('unzip', '-q', join(jdk, 'lib/ct.sym'), '8*/java.base/*', '-d', 'signatures');
  const classes = join(work, 'library');
  for (const release of readdirSync(join(work, 'signatures')))
    cpSync(join(work, 'signatures', release, 'java.base'), classes, { recursive: true });
  for (const name of readdirSync(classes, { recursive: true, encoding: 'utf8' })) {
    if (!name.endsWith('.sig')) continue;
    const bytes = readFileSync(join(classes, name));
    bytes.writeUInt16BE(javaEightClassVersion, 6); // signatures alone use nothing newer, whatever their header says
    writeFileSync(join(classes, name.replace(/\.sig$/, '.class')), bytes);
    rmSync(join(classes, name));
  }
  const jar = join(work, 'library.jar');
  execFileSync('zip', ['-q', '-r', jar, '.'], { cwd: classes });
  return jar;
}

/** What the program prints on standard error when the screen goes wrong. */
function crashText(jar: string, screen: string): string {
  const ran = spawnSync('java', ['-Xshare:auto', '-cp', jar, 'com.larkfield.guide.Guide', screen], { encoding: 'utf8' });
  if (!ran.stderr.includes('Exception in thread')) throw new Error(`${screen} did not crash:\n${ran.stdout}${ran.stderr}`);
  return ran.stderr;
}

const library = makeLibrary();
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
