/**
 * Runs each story of Stories.java, plain and obfuscated, and keeps what the virtual machine printed: `<story>.txt` of the obfuscated
 * program, `<story>.plain` of the plain one, and the mapping between them.
 *
 * Needs javac, java (17), zip, unzip and Debian's proguard-cli. Run with `npx tsx core/samples/jvm-messages/record.ts`.
 */
import { execFileSync, spawnSync } from 'node:child_process';
import { cpSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { makeLibrary } from '../../../demo/src/java-library.ts';

const here = fileURLToPath(new URL('.', import.meta.url));
const work = mkdtempSync(join(tmpdir(), 'stories-'));
const run = (program: string, ...args: string[]) => execFileSync(program, args, { cwd: work, stdio: ['ignore', 'ignore', 'inherit'] });
const library = makeLibrary(work);

/** Compiles and obfuscates the stories with one state of the classes that change under them; gives both folders of classes. */
function build(changing: string, mappingOptions: readonly string[]) {
  const plain = join(work, `${changing}-plain`);
  const obfuscated = join(work, `${changing}-obfuscated`);
  const sources = changing === 'Before' ? ['Stories.java', 'Before.java'] : ['After.java'];
  const classPath = changing === 'Before' ? [] : ['-cp', join(work, 'Before-plain')];
  run(
    'javac',
    '-Xlint:-options',
    '-g:source,lines',
    '--release',
    '8',
    ...classPath,
    '-d',
    plain,
    ...sources.map((name) => join(here, name)),
  );
  // What stays as it was, so that only the changed classes differ.
  if (changing === 'After') cpSync(join(work, 'Before-plain'), plain, { recursive: true, force: false });
  const jar = join(work, `${changing}.jar`);
  run(
    'proguard',
    ...['-injars', plain, '-outjars', jar, '-libraryjars', library, ...mappingOptions],
    ...['-dontshrink', '-dontoptimize', '-dontwarn', '-ignorewarnings', '-dontnote', '-allowaccessmodification', '-repackageclasses', "''"],
    ...['-keepattributes', 'SourceFile,LineNumberTable', '-renamesourcefileattribute', 'SourceFile'],
    '-keepclassmembers enum * { public static **[] values(); public static ** valueOf(java.lang.String); }',
    '-keep public class com.larkfield.ringing.Stories { public static void main(java.lang.String[]); }',
  );
  mkdirSync(obfuscated);
  run('unzip', '-q', jar, '-d', obfuscated);
  return { plain, obfuscated };
}

const mapping = join(here, 'ringing.mapping');
const before = build('Before', ['-printmapping', mapping]);
const after = build('After', ['-applymapping', mapping]);
const classes = new Map([...readFileSync(mapping, 'utf8').matchAll(/^(\S+) -> (\S+):$/gm)].map(([, plain, short]) => [plain, short]));
const fileOf = (name: string) => `${name.replaceAll('.', '/')}.class`;
for (const name of ['Station', 'Measure', 'Unfinished', 'Caliper', 'Gauge', 'Gauges', 'Metal', 'GoldRing', 'Scale']) {
  const plain = `com.larkfield.ringing.${name}`;
  const short = classes.get(plain) as string;
  if (name === 'Scale') {
    rmSync(join(before.plain, fileOf(plain)));
    rmSync(join(before.obfuscated, fileOf(short)));
  } else {
    cpSync(join(after.plain, fileOf(plain)), join(before.plain, fileOf(plain)));
    cpSync(join(after.obfuscated, fileOf(short)), join(before.obfuscated, fileOf(short)));
  }
}
const stories = [...readFileSync(join(here, 'Stories.java'), 'utf8').matchAll(/case "([\w-]+)":/g)].map(([, story]) => story as string);
for (const story of stories)
  for (const [folder, ending] of [
    [before.obfuscated, 'txt'],
    [before.plain, 'plain'],
  ] as const) {
    const ran = spawnSync('java', ['-cp', folder, 'com.larkfield.ringing.Stories', story], { encoding: 'utf8' });
    if (!ran.stderr.includes('Exception in thread')) throw new Error(`${story} did not crash:\n${ran.stdout}${ran.stderr}`);
    writeFileSync(join(here, `${story}.${ending}`), ran.stderr);
  }
rmSync(work, { recursive: true });
