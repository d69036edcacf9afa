#!/bin/sh
# Builds sources/ four ways, runs each build on the engines that take it, and keeps script, map and stacks in built/.
#   plain     the sources as they are (V8)
#   modern    bundled and minified, classes kept (V8, SpiderMonkey, JavaScriptCore)
#   es5       every class, generator and async function rewritten by a transpiler, with its helpers, minified (the same, and byte code)
#   kept      as es5, with names kept by the minifier
# Needs Node.js with npm, js102 (Debian libmozjs-102-dev) and jsc (Debian libjavascriptcoregtk-4.0-bin).
# Versions: esbuild 0.27.7, @babel/core 7, terser 5, hermes-engine-cli.
set -eu
cd "$(dirname "$0")"
here=$PWD
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
rm -rf built
mkdir built
cp -r sources "$work/sources"
cd "$work"
echo '{"type":"module","private":true}' >package.json
npm install --no-audit --no-fund --silent esbuild@0.27.7 @babel/core@7 @babel/preset-env@7 terser@5 @ampproject/remapping@2 hermes-engine-cli >/dev/null
node --input-type=module - <<'END'
import { readFileSync, writeFileSync } from 'node:fs';
import { buildSync } from 'esbuild';
import babel from '@babel/core';
import { minify } from 'terser';
import remapping from '@ampproject/remapping';

const bundle = (options) => buildSync({ entryPoints: ['sources/main.js'], bundle: true, format: 'iife', sourcemap: 'external', outfile: 'out.js', write: false, ...options }).outputFiles;
const [modernMap, modern] = bundle({ minify: true, target: 'es2022' });
writeFileSync('modern.js', modern.text);
writeFileSync('modern.js.map', modernMap.text);
const [bundledMap, bundled] = bundle({ target: 'es2022' });
const lowered = babel.transformSync(bundled.text, { presets: [['@babel/preset-env', { targets: 'ie 11', modules: false }]], sourceMaps: true, configFile: false, filename: 'bundled.js' });
const composed = (map) => remapping(map, (file) => (file.endsWith('bundled.js') ? bundledMap.text : file.endsWith('lowered.js') ? lowered.map : null));
for (const [name, options] of [['es5', {}], ['kept', { keep_fnames: true, keep_classnames: true }]]) {
  const small = await minify({ 'lowered.js': lowered.code }, { sourceMap: { filename: `${name}.js` }, compress: true, mangle: options, ...options });
  writeFileSync(`${name}.js`, small.code);
  const map = remapping([JSON.parse(small.map), lowered.map, JSON.parse(bundledMap.text)], () => null);
  writeFileSync(`${name}.js.map`, JSON.stringify(map));
}
END
tools=node_modules/hermes-engine-cli/linux64-bin
strip() { sed "s#/[^ (]*/InternalBytecode.js#InternalBytecode.js#; s#file://$work/#https://feeder.larkfield.example/#g; s#$work/##g; s#(node:#(node:#"; }
node sources/main.js | strip >"$here/built/plain.v8.stack"
for build in modern es5 kept; do
  cp $build.js.map "$here/built/"
  node $build.js | strip >"$here/built/$build.v8.stack"
  js102 $build.js 2>&1 | strip >"$here/built/$build.spidermonkey.stack"
  jsc $build.js 2>&1 | strip >"$here/built/$build.javascriptcore.stack"
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
  cp $build.hbc.map "$here/built/"
  "$tools/hermes" -Xes6-promise $build.hbc 2>&1 | strip >"$here/built/$build.bytecode.stack"
done
