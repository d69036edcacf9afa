/**
 * Lets a virtual machine print each exception of Headers.java, thrown and only printed, with what it really is, into `headers.json.gz`.
 *
 * Needs javac and java (17). Run with `npx tsx core/samples/jvm-headers/record.ts`.
 */
import { execFileSync, spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { gzipSync } from 'node:zlib';

const here = fileURLToPath(new URL('.', import.meta.url));
const classes = mkdtempSync(join(tmpdir(), 'headers-'));
execFileSync('javac', ['-encoding', 'UTF-8', '-d', classes, join(here, 'Headers.java')]);
const run = (...options: string[]) =>
  spawnSync('java', ['-XX:TieredStopAtLevel=1', '-Dfile.encoding=UTF-8', '-cp', classes, 'com.larkfield.headers.Headers', ...options], {
    encoding: 'utf8',
  });
const count = Number(run().stdout);
const recorded = Array.from({ length: count }, (_, number) => {
  const thrown = run(String(number));
  return { thrown: thrown.stderr, printed: run(String(number), 'printed').stderr, truth: JSON.parse(thrown.stdout) };
});
writeFileSync(join(here, 'headers.json.gz'), gzipSync(JSON.stringify(recorded)));
rmSync(classes, { recursive: true });
