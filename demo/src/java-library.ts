import { execFileSync } from 'node:child_process';
import { cpSync, readdirSync, readFileSync, realpathSync, rmSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';

const javaEightClassVersion = 52;

/** The API of Java 8 as class files; the JDK ships it for `javac --release`, and the obfuscator can read no newer one. */
export function makeLibrary(work: string): string {
  const jdk = dirname(dirname(realpathSync(execFileSync('which', ['javac'], { encoding: 'utf8' }).trim())));
  execFileSync('unzip', ['-q', join(jdk, 'lib/ct.sym'), '8*/java.base/*', '-d', 'signatures'], { cwd: work });
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
