/**
 * Rebuilds demo/reporting-guide: the guide of 4.3.1 with the Java reporter in it, compiled and obfuscated, and its mapping.
 *
 * Needs javac, java, zip, unzip and Debian's proguard-cli. Run with `npx tsx demo/src/build-reporting-guide.ts`.
 */
import { execFileSync } from 'node:child_process';
import { cpSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { makeLibrary } from './java-library.ts';

const place = (path: string): string => fileURLToPath(new URL(path, import.meta.url));
const target = place('../reporting-guide/');
const work = mkdtempSync(join(tmpdir(), 'reporting-'));
const sources = join(work, 'sources');
for (const version of readdirSync(place('../larkfield-guide/sources')).sort())
  cpSync(place(`../larkfield-guide/sources/${version}`), sources, { recursive: true });
const reporter = readFileSync(place('../../collector/java/EmberReporter.java'), 'utf8');
writeFileSync(join(sources, 'EmberReporter.java'), `package com.larkfield.guide;\n\n${reporter}`);
cpSync(join(target, 'ReportingGuide.java'), join(sources, 'ReportingGuide.java'));

const files = readdirSync(sources, { recursive: true, encoding: 'utf8' }).filter((name) => name.endsWith('.java'));
const classes = join(work, 'classes');
const run = (program: string, ...args: string[]) => execFileSync(program, args, { cwd: work, stdio: ['ignore', 'ignore', 'inherit'] });
run('javac', '-Xlint:-options', '-g:source,lines', '--release', '8', '-d', classes, ...files.map((name) => join(sources, name)));
rmSync(join(target, 'guide.jar'), { force: true });
run(
  'proguard',
  `@${join(target, 'keep.pro')}`,
  '-injars',
  classes,
  '-outjars',
  join(target, 'guide.jar'),
  '-libraryjars',
  makeLibrary(work),
  '-printmapping',
  join(target, 'mapping.txt'),
);
rmSync(work, { recursive: true });
