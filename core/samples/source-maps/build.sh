#!/bin/sh
# Bundles sources/ with three bundlers and compiles one bundle to byte code, runs all of them, and keeps the bundles,
# their maps and the stacks they print; plain.stack is the stack text of the sources run as they are.
# Needs Node.js with npm. Versions: esbuild 0.27.7, rollup 4 with terser, webpack 5, hermes-engine-cli.
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
npm install --no-audit --no-fund --silent esbuild@0.27.7 rollup@4 @rollup/plugin-terser webpack@5 webpack-cli@6 hermes-engine-cli @ampproject/remapping@2 >/dev/null

npx esbuild sources/feeder.js --bundle --minify --format=iife --sourcemap=linked --source-root=/feeder-cam --outfile=esbuild.js --log-level=error
npx rollup sources/feeder.js --format iife --name feeder --plugin terser --sourcemap --file rollup.js --silent
cat >webpack.config.js <<'END'
export default { mode: 'production', entry: './sources/feeder.js', devtool: 'source-map', output: { path: process.cwd(), filename: 'webpack.js', iife: true } };
END
npx webpack --config webpack.config.js >/dev/null
# The byte-code compiler maps to the bundle; a host's build then composes that with the map of the bundle.
npx esbuild sources/night.js --bundle --minify --format=iife --target=es2018 --sourcemap=external --outfile=night.bundle.js --log-level=error
tools=node_modules/hermes-engine-cli/linux64-bin
"$tools/hermesc" -O -emit-binary -output-source-map -out night.hbc night.bundle.js
node sources/feeder.js | sed "s#file://$work/sources/##; s#file://$work/##" >"$here/built/plain.stack"
for bundler in esbuild rollup webpack; do
  node "$bundler.js" | sed "s#file://$work/#https://feeder.larkfield.example/app/#; s#($work/#(#; s#$work/##" >"$here/built/$bundler.stack" || true
  cp "$bundler.js" "$bundler.js.map" "$here/built/"
done
node --input-type=module -e '
  import { readFileSync, writeFileSync } from "node:fs";
  import remapping from "@ampproject/remapping";
  const map = (name) => JSON.parse(readFileSync(name));
  const composed = remapping(map("night.hbc.map"), (file) => (file.endsWith("night.bundle.js") ? map("night.bundle.js.map") : null));
  writeFileSync("night.hbc.map", JSON.stringify(composed));
'
cp night.hbc.map "$here/built/"
"$tools/hermes" night.hbc >"$here/built/night.stack"
node sources/night.js | sed "s#file://$work/sources/##" >"$here/built/night-plain.stack"
