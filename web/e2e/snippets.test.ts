import { execFile, spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { copyFileSync, existsSync, mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
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
const arrives = (message: string, kind: 'error' | 'crash' = 'error') =>
  eventually(
    () =>
      askAsOwner<{ total: number }>(
        `/api/v1/apps/larkfield-guide/cases?last=all&kind=${kind}&filter=${encodeURIComponent(JSON.stringify(message))}`,
      ),
    ({ total }) => total > 0,
  );

const lacks = (program: string, asked: string) => spawnSync(program, [asked]).status !== 0;

/** A folder of its own with a program in it. */
function projectWith(name: string, program: string): string {
  const project = mkdtempSync(join(folder, 'app-'));
  writeFileSync(join(project, name), program);
  return project;
}

/** Runs a program that crashes, and again to send what it kept. */
async function crashAndSend([program, ...args]: [string, ...string[]], project: string): Promise<void> {
  await expect(run(program, [...args, 'crash'], { cwd: project })).rejects.toThrow('Command failed');
  await run(program, [...args, 'send'], { cwd: project });
}

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

  it.skipIf(lacks('javac', '-version'))('Java is downloaded, compiled and run', async () => {
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

  it.skipIf(lacks('javac', '-version'))('Android is two files, which compile with the classes of the system', async () => {
    const { install, code } = snippet('Android');
    const app = `public class App extends android.app.Application {\n  public void onCreate() {\n${code}\n  }\n}\n`;
    const project = projectWith('App.java', app);
    await run('/bin/sh', ['-c', install as string], { cwd: project });
    const standIns = fileURLToPath(new URL('../../collector/android/testing', import.meta.url));
    await run('javac', ['-nowarn', '-sourcepath', `.:${standIns}`, 'App.java'], { cwd: project });
    expect(existsSync(join(project, 'EmberAndroid.class'))).toBe(true);
  });

  it('C++ is told of by the native client, what was thrown too, and sends it at the next launch', async () => {
    const { install, code } = snippet('C and C++');
    const app = `#include <cstdio>
#include <cstdlib>
#include <cstring>
#include <stdexcept>
#include <string>
#include <thread>
#include <unistd.h>
${code}
int main(int, char **words) {
  watch("kept");
  if (std::strcmp(words[1], "send") == 0) return sleep(5);
  throw std::runtime_error("snippet of C++ says wren");
}
`;
    const project = projectWith('app.cpp', app);
    await run('/bin/bash', ['-c', install as string], { cwd: project });
    await run('/bin/sh', ['-c', 'cc -std=c11 -c ember_native.c && c++ app.cpp ember_native.o -o app -lpthread'], { cwd: project });
    await crashAndSend(['./app'], project);
    expect((await arrives('snippet of C++ says wren', 'crash')).total).toBe(1);
  });

  it.skipIf(lacks('kotlinc', '-version'))('Kotlin keeps a crash, and sends it at the next launch', async () => {
    const [install, send] = snippet('Kotlin').code.split('\n\n') as [string, string];
    const app = `import java.io.File
import java.net.HttpURLConnection
import java.net.URL
import java.util.UUID
import kotlin.concurrent.thread

// What Android has.
object Build { const val MODEL = "Tarn Go 3"; object VERSION { const val RELEASE = "15" } }
object Uri { fun encode(text: String): String = java.net.URLEncoder.encode(text, "UTF-8") }
val filesDir = File("kept").also { it.mkdirs() }
// What Kotlin has from 1.4 on.
fun Throwable.stackTraceToString() = java.io.StringWriter().also { printStackTrace(java.io.PrintWriter(it)) }.toString()

fun install() {
${install}
}

${send}

fun main(args: Array<String>) {
  if (args[0] == "send") return sendCrashOfLastLaunch().join()
  install()
  throw IllegalStateException("snippet of Kotlin says wren")
}
`;
    const project = projectWith('App.kt', app);
    await run('kotlinc', ['App.kt', '-include-runtime', '-d', 'app.jar'], { cwd: project });
    await crashAndSend(['java', '-jar', 'app.jar'], project);
    expect((await arrives('snippet of Kotlin says wren', 'crash')).total).toBe(1);
  });

  it.skipIf(lacks('mcs', '--version') || lacks('mono', '--version'))('C# is one file, which keeps a crash and sends it', async () => {
    const { install, code } = snippet('C#');
    const app = `using System;
static class FileSystem { public const string AppDataDirectory = "kept"; }
static class App {
  static void Main(string[] words) {
    var reporter = ${code.slice(code.indexOf('EmberReporter.Install'))}
    if (words[0] == "send") reporter.Flush(20000);
    else throw new InvalidOperationException("snippet of C# says wren");
  }
}
`;
    const project = projectWith('App.cs', app);
    await run('/bin/sh', ['-c', install as string], { cwd: project });
    await run('mcs', ['-langversion:latest', 'App.cs', 'EmberReporter.cs'], { cwd: project });
    await crashAndSend(['mono', 'App.exe'], project);
    expect((await arrives('snippet of C# says wren', 'crash')).total).toBe(1);
  });
});

it('what is handed out is what its checksums say', async () => {
  const list = await askAsOwner<{ file: string; version: string; sha256: string; bytes: number }[]>('/api/v1/downloads');
  expect(list.map(({ file }) => file)).toEqual([
    'rough-ember-collector.tgz',
    'rough-ember-cli.tgz',
    'EmberReporter.java',
    'EmberAndroid.java',
    'EmberRequests.java',
    'EmberReporter.cs',
    'EmberHttp.cs',
    'EmberLogging.cs',
    'EmberReporter.swift',
    'ember_reporter.dart',
    'ember_place_io.dart',
    'ember_place_web.dart',
    'ember_flutter.dart',
    'ember_native.c',
    'ember_native.h',
    'ember_native.hpp',
  ]);
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
