// Makes the packages that a server hands out: the collector and the command line as npm packs them, and the reporter for the JVM.
import { spawnSync } from 'node:child_process';
import { createHash } from 'node:crypto';
import { copyFileSync, mkdirSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { basename, join } from 'node:path';
import { BuildProblem, buildOf, root } from './build-of.mjs';
import { commandLineBuild } from './command-line.mjs';

const readJson = (file) => JSON.parse(readFileSync(join(root, file), 'utf8'));
const { version, license } = readJson('package.json');

function run(command, args, folder) {
  const ran = spawnSync(command, args, { cwd: folder, encoding: 'utf8' });
  if (ran.status !== 0) throw new BuildProblem(`"${command} ${args.join(' ')}" failed:\n${ran.stdout}${ran.stderr}`);
}

/** What every package says of itself. */
const common = { version, license, type: 'module', engines: { node: '>=20.19' }, files: ['*'] };

/** A folder of a package to be packed, with its papers. */
function stage(folder, description, readme) {
  mkdirSync(folder, { recursive: true });
  writeFileSync(join(folder, 'package.json'), JSON.stringify({ ...description, ...common }, null, 2));
  copyFileSync(join(root, 'LICENSE'), join(folder, 'LICENSE'));
  copyFileSync(join(root, readme), join(folder, 'README.md'));
  return folder;
}

/** Packs a staged folder and gives the file a name without its version, which its address has. */
function pack(staged, into, name) {
  run('npm', ['pack', '--pack-destination', into, '--loglevel=error'], staged);
  const packed = readdirSync(into).find((file) => file.startsWith(name) && file.endsWith(`-${version}.tgz`));
  copyFileSync(join(into, packed), join(into, `${name}.tgz`));
  rmSync(join(into, packed));
}

/** The collector as ES modules and as CommonJS, with its types; two entries: everywhere, and for Node. */
async function stageCollector(folder) {
  const { build } = await import('esbuild');
  const conditions = (entry) => ({
    import: { types: `./esm/${entry}.d.ts`, default: `./esm/${entry}.js` },
    require: { types: `./cjs/${entry}.d.ts`, default: `./cjs/${entry}.js` },
  });
  stage(
    folder,
    {
      name: '@rough-ember/collector',
      description: 'Sends crashes, handled errors and sessions of JavaScript apps to a Rough Ember server.',
      sideEffects: false,
      exports: { '.': conditions('index'), './node': conditions('file-storage') },
      main: './cjs/index.js',
      types: './cjs/index.d.ts',
    },
    'collector/README.md',
  );
  for (const format of ['esm', 'cjs']) {
    await build({
      absWorkingDir: root,
      entryPoints: ['collector/src/index.ts', 'collector/src/file-storage.ts'],
      outdir: join(folder, format),
      bundle: true,
      format,
      // Hosts on phones run engines that are some years behind.
      target: 'es2019',
      platform: 'neutral',
      external: ['node:*'],
      logLevel: 'error',
    });
  }
  const types = ['-p', 'collector', '--noEmit', 'false', '--emitDeclarationOnly', '--declaration', '--outDir', join(folder, 'esm')];
  run(process.execPath, ['node_modules/typescript/bin/tsc', ...types], root);
  for (const file of readdirSync(join(folder, 'esm')).filter((name) => name.endsWith('.d.ts'))) {
    const text = readFileSync(join(folder, 'esm', file), 'utf8').replace(/(from '\.\/[\w-]+)\.ts'/g, "$1.js'");
    for (const format of ['esm', 'cjs']) writeFileSync(join(folder, format, file), text);
  }
  writeFileSync(join(folder, 'cjs/package.json'), '{"type":"commonjs"}\n');
}

/** The command line in files that need no other package, with the licences of what is in them. */
async function stageCommandLine(folder) {
  const { build } = await import('esbuild');
  stage(
    folder,
    {
      name: '@rough-ember/cli',
      description: 'Reads and symbolicates crash files, uploads symbol files and checks rollouts of a Rough Ember server.',
      bin: { ember: './ember.mjs' },
    },
    'cli/README.md',
  );
  const { metafile } = await build({ ...commandLineBuild, outdir: folder, sourcemap: false, metafile: true });
  const packages = new Set(Object.keys(metafile.inputs).flatMap((path) => /^(.*node_modules\/(?:@[^/]+\/)?[^/]+)\//.exec(path)?.[1] ?? []));
  const licences = [...packages].sort().map((path) => {
    const about = readJson(join(path, 'package.json'));
    const file = readdirSync(join(root, path)).find((name) => /^licen[cs]e/i.test(name));
    const text = file ? readFileSync(join(root, path, file), 'utf8').trim() : `${about.license}`;
    return `${about.name} ${about.version}\n\n${text}\n`;
  });
  writeFileSync(join(folder, 'THIRD-PARTY-LICENCES.txt'), licences.join(`\n${'-'.repeat(72)}\n\n`));
}

const parts = [
  { file: 'rough-ember-collector.tgz', name: '@rough-ember/collector', what: 'Collector for browsers, mobile JavaScript hosts and Node' },
  { file: 'rough-ember-cli.tgz', name: '@rough-ember/cli', what: 'The command line, ember' },
  { file: 'EmberReporter.java', name: 'EmberReporter', what: 'Reporter for the JVM and Android, one file' },
  { file: 'EmberAndroid.java', name: 'EmberAndroid', what: 'What Android adds to the reporter for the JVM' },
  { file: 'EmberRequests.java', name: 'EmberRequests', what: 'Tells the reporter of requests of the common HTTP client of Android' },
  { file: 'EmberReporter.cs', name: 'EmberReporter', what: 'Reporter for .NET and Mono, one file' },
  { file: 'EmberHttp.cs', name: 'EmberHttp', what: 'Tells the reporter for .NET of requests of an HttpClient' },
  { file: 'EmberLogging.cs', name: 'EmberLogging', what: 'Puts what an app of .NET logs onto the trail' },
  { file: 'EmberReporter.swift', name: 'EmberReporter', what: 'Reporter for Apple’s systems, one file; not compiled by our tests' },
  {
    file: 'ember_reporter.dart',
    name: 'ember_reporter',
    what: 'Reporter for Dart, with ember_place_io.dart and ember_place_web.dart; not compiled by our tests',
  },
  { file: 'ember_place_io.dart', name: 'ember_reporter', what: 'Where the reporter for Dart keeps things on devices' },
  { file: 'ember_place_web.dart', name: 'ember_reporter', what: 'Where the reporter for Dart keeps things on the web' },
  { file: 'ember_flutter.dart', name: 'ember_reporter', what: 'What Flutter adds to the reporter for Dart' },
  { file: 'ember_native.c', name: 'ember_native', what: 'Client for native code, with ember_native.h' },
  { file: 'ember_native.h', name: 'ember_native', what: 'What the client for native code can do' },
  { file: 'ember_native.hpp', name: 'ember_native', what: 'Tells C++ exceptions that nothing catches' },
];

/** Everything that is handed out, with an index of names, versions and checksums; gives the folder. */
export const buildPackages = () =>
  buildOf(
    'dist/packages',
    [
      'core/src',
      'cli/src',
      'cli/README.md',
      'collector/src',
      'collector/java',
      'collector/native',
      'collector/android',
      'collector/dotnet',
      'collector/apple',
      'collector/dart',
      'collector/README.md',
      'collector/tsconfig.json',
      'package.json',
      'LICENSE',
    ],
    async (folder) => {
      const staging = join(folder, 'staging');
      await stageCollector(join(staging, 'collector'));
      await stageCommandLine(join(staging, 'cli'));
      pack(join(staging, 'collector'), folder, 'rough-ember-collector');
      pack(join(staging, 'cli'), folder, 'rough-ember-cli');
      rmSync(staging, { recursive: true });
      for (const file of [
        'java/EmberReporter.java',
        'android/EmberAndroid.java',
        'android/EmberRequests.java',
        'dotnet/EmberReporter.cs',
        'dotnet/EmberHttp.cs',
        'dotnet/EmberLogging.cs',
        'apple/EmberReporter.swift',
        'dart/ember_reporter.dart',
        'dart/ember_place_io.dart',
        'dart/ember_place_web.dart',
        'dart/ember_flutter.dart',
        'native/ember_native.c',
        'native/ember_native.h',
        'native/ember_native.hpp',
      ])
        copyFileSync(join(root, 'collector', file), join(folder, basename(file)));
      const index = parts.map((part) => {
        const bytes = readFileSync(join(folder, part.file));
        return { ...part, version, bytes: bytes.length, sha256: createHash('sha256').update(bytes).digest('hex') };
      });
      writeFileSync(join(folder, 'index.json'), JSON.stringify(index, null, 2));
      writeFileSync(join(folder, 'SHA256SUMS'), index.map(({ sha256, file }) => `${sha256}  ${file}\n`).join(''));
    },
  );
