import { execFile } from 'node:child_process';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer, type IncomingMessage } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { buildPackages } from './build/packages.mjs';

const root = fileURLToPath(new URL('..', import.meta.url));
const run = promisify(execFile);
const folder = mkdtempSync(join(tmpdir(), 'ember-packages-'));
let packages: string;

/** An empty project that has one of the packages and nothing else. */
async function project(name: string, file: string): Promise<string> {
  const path = join(folder, name);
  mkdirSync(path);
  writeFileSync(join(path, 'package.json'), '{"private":true,"type":"module"}');
  await run('npm', ['install', '--offline', '--no-audit', '--no-fund', '--loglevel=error', join(packages, file)], { cwd: path });
  return path;
}

beforeAll(async () => {
  packages = await buildPackages();
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const versionOf = (path: string) => JSON.parse(readFileSync(join(root, path), 'utf8')).version as string;

it('all of it has one version', () => {
  const own = versionOf('package.json');
  for (const workspace of ['core', 'store', 'server', 'web', 'cli', 'demo', 'collector'])
    expect([workspace, versionOf(`${workspace}/package.json`)]).toEqual([workspace, own]);
  const index = JSON.parse(readFileSync(join(packages, 'index.json'), 'utf8')) as { version: string }[];
  expect(new Set(index.map((one) => one.version))).toEqual(new Set([own]));
});

describe('the collector, installed', () => {
  let path: string;
  let address: string;
  const received: string[] = [];
  const server = createServer(async (request: IncomingMessage, response) => {
    let body = '';
    for await (const chunk of request) body += chunk;
    const items = body.split('\n').filter((line) => line !== '');
    received.push(...items);
    const told = items.map((line, at) => ({ line: at + 1, id: JSON.parse(line).id, outcome: 'accepted' }));
    response.writeHead(202, { 'content-type': 'application/json' }).end(JSON.stringify({ items: told }));
  });

  beforeAll(async () => {
    path = await project('collector', 'rough-ember-collector.tgz');
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    address = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  });
  afterAll(() => server.close());

  const program = (head: string) => `${head}
const collector = startCollector({ server: '${address}', key: 'intake_x', version: '4.3.0', build: '430', storage: fileStorage('kept') });
collector.report(new TypeError('the feed ended'));
await collector.flush();
process.exit(0);`;

  it.each([
    ['esm.mjs', `import { startCollector } from '@rough-ember/collector';\nimport { fileStorage } from '@rough-ember/collector/node';`],
    [
      'cjs.cjs',
      `(async () => {\nconst { startCollector } = require('@rough-ember/collector');\nconst { fileStorage } = require('@rough-ember/collector/node');`,
    ],
  ])('reports from Node as %s', async (file, head) => {
    received.length = 0;
    writeFileSync(join(path, file), file.endsWith('cjs') ? `${program(head)}\n})();` : program(head));
    await run(process.execPath, [file], { cwd: path });
    expect(received.some((line) => line.includes('the feed ended'))).toBe(true);
  });

  it('goes into a bundle for the browser whole, and brings nothing of Node along', async () => {
    const { build } = await import('esbuild');
    writeFileSync(join(path, 'page.js'), `import { startCollector } from '@rough-ember/collector';\nglobalThis.start = startCollector;`);
    const built = await build({
      entryPoints: [join(path, 'page.js')],
      absWorkingDir: path,
      bundle: true,
      platform: 'browser',
      write: false,
      metafile: true,
      format: 'iife',
    });
    expect(built.warnings).toEqual([]);
    expect(Object.keys(built.metafile.inputs).filter((one) => one.includes('node_modules'))).toEqual([
      'node_modules/@rough-ember/collector/esm/index.js',
    ]);
    expect(built.outputFiles[0]?.text).not.toMatch(/require\(|node:fs/);
  });

  it.each(['node16', 'bundler'])('has types that hold under strict TypeScript, resolved as by %s', async (moduleResolution) => {
    writeFileSync(
      join(path, 'typed.ts'),
      `import { startCollector, type Collector, type CollectorOptions } from '@rough-ember/collector';
import { fileStorage } from '@rough-ember/collector/node';
const options: CollectorOptions = { server: 'https://ember.example', key: 'intake_x', version: '1', build: '1', storage: fileStorage('kept') };
const collector: Collector = startCollector(options);
collector.attribute('feeders', 3);
const load: (name: string) => number = collector.wrap((name: string) => name.length);
// @ts-expect-error a version is a text
startCollector({ ...options, version: 4 });
void load;
`,
    );
    const module = moduleResolution === 'bundler' ? 'esnext' : 'node16';
    const compilerOptions = { strict: true, noEmit: true, target: 'es2022', lib: ['es2022', 'dom'], types: [], module, moduleResolution };
    writeFileSync(join(path, 'tsconfig.json'), JSON.stringify({ compilerOptions, files: ['typed.ts'] }));
    const tsc = join(root, 'node_modules/typescript/bin/tsc');
    const checked = await run(process.execPath, [tsc], { cwd: path }).catch((error) => error);
    expect(checked.stdout).toBe('');
  });

  it('brings its papers, and no test', () => {
    const installed = readdirSync(join(path, 'node_modules/@rough-ember/collector'), { recursive: true, encoding: 'utf8' });
    expect(installed).toEqual(expect.arrayContaining(['README.md', 'LICENSE', 'package.json', 'esm/index.d.ts', 'cjs/index.d.ts']));
    expect(installed.filter((name) => /test|\.ts$/.test(name) && !name.endsWith('.d.ts'))).toEqual([]);
  });
});

describe('the command line, installed', () => {
  let path: string;
  beforeAll(async () => {
    path = await project('cli', 'rough-ember-cli.tgz');
  });
  const ember = (...args: string[]) => run(join(path, 'node_modules/.bin/ember'), args, { cwd: tmpdir() });

  it('says its version and symbolicates a crash file', async () => {
    expect((await ember('--version')).stdout.trim()).toBe(versionOf('package.json'));
    const builds = join(root, 'demo/larkfield-guide/builds/4.3.0');
    const { stdout } = await ember('symbolicate', join(builds, 'crashes/night-map.txt'), '--symbols', join(builds, 'mapping.txt'));
    expect(stdout).toContain('com.larkfield.guide');
  });

  it('brings its papers and the licences of what is in it, and no other package', () => {
    const installed = readdirSync(join(path, 'node_modules/@rough-ember/cli'));
    expect(installed).toEqual(expect.arrayContaining(['README.md', 'LICENSE', 'THIRD-PARTY-LICENCES.txt', 'ember.mjs']));
    const licences = readFileSync(join(path, 'node_modules/@rough-ember/cli/THIRD-PARTY-LICENCES.txt'), 'utf8');
    for (const name of ['commander', 'zod', 'tus-js-client', '@babel/parser']) expect(licences).toMatch(new RegExp(`^${name} \\d`, 'm'));
    expect(readdirSync(join(path, 'node_modules')).filter((name) => !name.startsWith('.'))).toEqual(['@rough-ember']);
  });
});
