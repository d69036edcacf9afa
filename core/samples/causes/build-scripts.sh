#!/bin/sh
# Builds a program of scripts (nest-log, trail-notes) in several ways, runs each build on the engines that take it, and keeps maps
# and stacks in its built/. Usage: build-scripts.sh PROGRAM
#   plain     the sources as they are (V8)
#   modern    bundled and minified by esbuild, classes kept (V8, SpiderMonkey, JavaScriptCore)
#   rolled    bundled by rollup, small functions put into their callers by terser in three passes (the same)
#   es5       every class, generator and async function rewritten by babel, with its helpers, minified by terser (the same, and byte code)
#   kept      as es5, with names kept by the minifier
# Needs Node.js with npm, js102 (Debian libmozjs-102-dev) and jsc (Debian libjavascriptcoregtk-4.0-bin).
# Versions: esbuild 0.27.7, rollup 4, @babel/core 7, terser 5, hermes-engine-cli.
set -eu
cd "$(dirname "$0")"
here=$PWD
program=$1
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
rm -rf "$program/built"
mkdir "$program/built"
cp -r "$program/sources" "$work/sources"
cp run-causes.js "$work/sources"
cd "$work"
echo '{"type":"module","private":true}' >package.json
npm install --no-audit --no-fund --silent esbuild@0.27.7 rollup@4 @babel/core@7 @babel/preset-env@7 terser@5 @ampproject/remapping@2 hermes-engine-cli >/dev/null
node --input-type=module - <<'END'
import { writeFileSync } from 'node:fs';
import { buildSync } from 'esbuild';
import babel from '@babel/core';
import { rollup } from 'rollup';
import { minify } from 'terser';
import remapping from '@ampproject/remapping';

const bundle = (options) => buildSync({ entryPoints: ['sources/run-causes.js'], bundle: true, format: 'iife', sourcemap: 'external', outfile: 'out.js', write: false, ...options }).outputFiles;
const keep = (name, script, map) => {
  writeFileSync(`${name}.js`, script);
  writeFileSync(`${name}.js.map`, typeof map === 'string' ? map : JSON.stringify(map));
};
const [modernMap, modern] = bundle({ minify: true, target: 'es2022' });
keep('modern', modern.text, modernMap.text);

const rolled = (await (await rollup({ input: 'sources/run-causes.js' })).generate({ format: 'iife', sourcemap: true, file: 'rolled.js' })).output[0];
const smallRolled = await minify({ 'rolled.js': rolled.code }, { sourceMap: { filename: 'rolled.js' }, compress: { passes: 3 }, toplevel: true });
keep('rolled', smallRolled.code, remapping([JSON.parse(smallRolled.map), JSON.parse(rolled.map.toString())], () => null));

const [bundledMap, bundled] = bundle({ target: 'es2022' });
const lowered = babel.transformSync(bundled.text, { presets: [['@babel/preset-env', { targets: 'ie 11', modules: false }]], sourceMaps: true, configFile: false, filename: 'bundled.js' });
for (const [name, options] of [['es5', {}], ['kept', { keep_fnames: true, keep_classnames: true }]]) {
  const small = await minify({ 'lowered.js': lowered.code }, { sourceMap: { filename: `${name}.js` }, compress: true, mangle: options, ...options });
  keep(name, small.code, remapping([JSON.parse(small.map), lowered.map, JSON.parse(bundledMap.text)], () => null));
}
END
tools=node_modules/hermes-engine-cli/linux64-bin
strip() { sed "s#/[^ (]*/InternalBytecode.js#InternalBytecode.js#; s#file://$work/#https://notes.larkfield.example/#g; s#$work/##g; s#(node:#(node:#"; }
node sources/run-causes.js | strip >"$here/$program/built/plain.v8.stack"
for build in modern rolled es5 kept; do
  gzip -9nc $build.js.map >"$here/$program/built/$build.js.map.gz"
  node $build.js | strip >"$here/$program/built/$build.v8.stack"
  js102 $build.js 2>&1 | strip >"$here/$program/built/$build.spidermonkey.stack"
  jsc $build.js 2>&1 | strip >"$here/$program/built/$build.javascriptcore.stack"
done
for build in es5 kept; do
  "$tools/hermesc" -O -emit-binary -output-source-map -out $build.hbc $build.js 2>/dev/null
  node --input-type=module -e '
    import { readFileSync, writeFileSync } from "node:fs";
    import remapping from "@ampproject/remapping";
    const name = process.argv[1];
    const map = (file) => JSON.parse(readFileSync(file));
    writeFileSync(`${name}.hbc.map`, JSON.stringify(remapping([map(`${name}.hbc.map`), map(`${name}.js.map`)], () => null)));
  ' $build
  gzip -9nc $build.hbc.map >"$here/$program/built/$build.hbc.map.gz"
  "$tools/hermes" -Xes6-promise $build.hbc 2>&1 | strip >"$here/$program/built/$build.bytecode.stack"
done
