import { execFile, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { copyFileSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import { serverVersion } from '@rough-ember/server/server-version';
import { afterAll, describe, expect, it } from 'vitest';
import { type Snippet, snippets } from '../src/intake/snippets';
import { askAsOwner, eventually } from './testing/owner.ts';
import { server } from './testing/server.ts';

const folder = mkdtempSync(join(tmpdir(), 'ember-snippets-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const shown = snippets({ serverAddress: server.address, serverVersion }, server.intakeKey, 'larkfield-guide');
const snippet = (platform: string) => shown.find((one) => one.platform === platform) as Snippet;
const run = promisify(execFile);

/** Runs what a snippet says in a shell, in an empty project. */
function shell(script: string, project: string) {
  mkdirSync(join(folder, project), { recursive: true });
  writeFileSync(join(folder, project, 'package.json'), '{"private":true,"type":"module"}');
  const env = { ...process.env, npm_config_cache: join(folder, 'npm-cache'), npm_config_audit: 'false', npm_config_fund: 'false' };
  return run('/bin/sh', ['-c', script], { cwd: join(folder, project), env });
}

/** Waits until a report with this message is there. */
const arrives = (message: string) =>
  eventually(
    () =>
      askAsOwner<{ total: number }>(
        `/api/v1/apps/larkfield-guide/cases?last=all&kind=error&filter=${encodeURIComponent(JSON.stringify(message))}`,
      ),
    ({ total }) => total > 0,
  );

describe('the snippets of Intake, word for word', () => {
  it.each(['JavaScript', 'Node'])('%s installs from this server and reports', async (platform) => {
    const { install = '', code } = snippet(platform);
    const message = `snippet of ${platform} says wren`;
    await shell(install, platform);
    writeFileSync(
      join(folder, platform, 'app.js'),
      `${code}\ncollector.report(new RangeError(${JSON.stringify(message)}));\nawait collector.flush();\nprocess.exit(0);`,
    );
    await run(process.execPath, ['app.js'], { cwd: join(folder, platform) });
    expect((await arrives(message)).total).toBe(1);
  });

  it('the build server uploads with a command line that it has from here', async () => {
    mkdirSync(join(folder, 'build'), { recursive: true });
    copyFileSync(
      fileURLToPath(new URL('../../demo/larkfield-guide/builds/4.3.0/mapping.txt', import.meta.url)),
      join(folder, 'build/mapping.txt'),
    );
    const { stdout } = await shell(snippet('Build server').code.replace('upload_…', server.uploadToken), 'build');
    expect(stdout).toContain('mapping.txt');
  });

  it.skipIf(spawnSync('javac', ['-version']).status !== 0)('Java is downloaded, compiled and run', async () => {
    const { install = '', code } = snippet('Java');
    await shell(install, 'java');
    writeFileSync(
      join(folder, 'java/App.java'),
      `import java.io.File;
public class App {
  static File getFilesDir() { return new File("kept"); }
  public static void main(String[] args) throws Exception {
    ${code.replace('EmberReporter.install', 'EmberReporter reporter = EmberReporter.install')}
    reporter.report(new IllegalStateException("snippet of Java says wren"));
    reporter.flush(20_000);
  }
}
`,
    );
    await run('/bin/sh', ['-c', 'javac EmberReporter.java App.java && java -cp . App'], { cwd: join(folder, 'java') });
    expect((await arrives('snippet of Java says wren')).total).toBe(1);
  });
});

it('what is handed out is what its checksums say', async () => {
  const list = await askAsOwner<{ file: string; version: string; sha256: string; bytes: number }[]>('/api/v1/downloads');
  expect(list.map(({ file }) => file)).toEqual(['rough-ember-collector.tgz', 'rough-ember-cli.tgz', 'EmberReporter.java']);
  const sums = await (await fetch(`${server.address}/downloads/latest/SHA256SUMS`)).text();
  for (const { file, version, sha256, bytes } of list) {
    const answer = await fetch(`${server.address}/downloads/${version}/${file}`);
    const content = Buffer.from(await answer.arrayBuffer());
    expect([content.length, createHash('sha256').update(content).digest('hex')]).toEqual([bytes, sha256]);
    expect(sums).toContain(`${sha256}  ${file}\n`);
  }
  const missing = await fetch(`${server.address}/downloads/9.9.9/rough-ember-cli.tgz`);
  expect([missing.status, (await missing.json()).error.message]).toEqual([
    404,
    expect.stringContaining(`${serverVersion}/rough-ember-cli.tgz`),
  ]);
  for (const path of ['/downloads/latest/index.json', '/downloads/latest/..%2f..%2fpackage.json', '/downloads/latest/../../package.json'])
    expect((await fetch(server.address + path)).status).not.toBe(200);
});
