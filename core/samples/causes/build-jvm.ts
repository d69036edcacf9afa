/**
 * Builds a program of Java and Kotlin (ringing-desk, owl-count) in several ways, runs each build, and keeps mappings and what the
 * virtual machine printed in its `built/`. Run with `npx tsx core/samples/causes/build-jvm.ts PROGRAM`.
 *
 *   plain       as the compilers make it
 *   no-lines    without line tables and file names
 *   backported  lambdas and default methods rewritten for older virtual machines, nothing renamed
 *   renamed     renamed, nothing put into its callers
 *   shrunk      renamed and optimised: small methods put into their callers, classes merged
 *   renamed-backported   renamed, for older virtual machines
 *
 * Needs javac and java (17), kotlinc, zip, unzip and Debian's proguard-cli.
 */
import { execFileSync, spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { gzipSync } from 'node:zlib';
import { makeLibrary } from '../../../demo/src/java-library.ts';

const here = fileURLToPath(new URL('.', import.meta.url));
const program = process.argv[2] as string;
const sources = join(here, program, 'sources');
const built = join(here, program, 'built');
const work = mkdtempSync(join(tmpdir(), 'causes-'));
const run = (command: string, ...args: string[]) => execFileSync(command, args, { cwd: work, stdio: ['ignore', 'ignore', 'inherit'] });
const kotlin = '/usr/share/java/kotlin-stdlib.jar';

const library = makeLibrary(work);
const plain = join(work, 'plain');
const files = readdirSync(sources).map((name) => join(sources, name));
run('kotlinc', '-nowarn', '-d', plain, ...files.filter((file) => file.endsWith('.kt')));
run(
  'javac',
  '-Xlint:-options',
  '-g',
  '--release',
  '8',
  '-cp',
  `${plain}:${kotlin}`,
  '-d',
  plain,
  join(here, 'RunCauses.java'),
  ...files.filter((file) => file.endsWith('.java')),
);

const keptLines = ['-keepattributes', 'SourceFile,LineNumberTable'];
const renamedLines = [...keptLines, '-renamesourcefileattribute', 'SourceFile'];
const asItIs = ['-dontobfuscate', '-dontoptimize', '-dontshrink'];
const optimised = ['-optimizationpasses', '3', '-allowaccessmodification', '-repackageclasses', "''"];
const older = ['-target', '1.7'];
/** Each with how many frames the virtual machine prints at most, so that deep stacks are cut at other places. */
const builds: Readonly<Record<string, { readonly options: readonly string[]; readonly depth: number }>> = {
  'no-lines': { options: asItIs, depth: 150 },
  backported: { options: [...asItIs, ...keptLines, ...older], depth: 61 },
  renamed: { options: ['-dontoptimize', '-dontshrink', ...renamedLines], depth: 100 },
  shrunk: { options: [...optimised, ...renamedLines], depth: 133 },
  'renamed-backported': { options: ['-dontoptimize', '-dontshrink', ...renamedLines, ...older], depth: 77 },
};

function keep(name: string, classes: string, depth: number): void {
  const ran = spawnSync(
    'java',
    [`-XX:MaxJavaStackTraceDepth=${depth}`, '-Xss512k', '-cp', `${classes}:${kotlin}`, 'com.larkfield.causes.RunCauses'],
    { encoding: 'utf8' },
  );
  writeFileSync(join(built, `${name}.stack`), ran.stderr);
}

rmSync(built, { recursive: true, force: true });
mkdirSync(built);
keep('plain', plain, 200);
for (const [name, { options, depth }] of Object.entries(builds)) {
  const jar = join(work, `${name}.jar`);
  const mapping = join(work, `${name}.mapping`);
  run(
    'proguard',
    ...['-injars', plain, '-outjars', jar, '-libraryjars', library, '-libraryjars', kotlin, '-printmapping', mapping],
    ...['-dontwarn', '-ignorewarnings', '-dontnote', ...options],
    '-keepclassmembers enum * { public static **[] values(); public static ** valueOf(java.lang.String); }',
    '-keep public class com.larkfield.causes.RunCauses { public static void main(java.lang.String[]); }',
  );
  keep(name, jar, depth);
  if (!options.includes('-dontobfuscate')) writeFileSync(join(built, `${name}.mapping.gz`), gzipSync(readFileSync(mapping), { level: 9 }));
}
rmSync(work, { recursive: true });
