#!/bin/sh
# Bundles each release of Feeder Cam, compiles the bundle to byte code, composes both maps, runs the byte code, and keeps the map
# and the stacks. Needs Node.js with npm: esbuild 0.27.7, hermes-engine-cli.
set -eu
cd "$(dirname "$0")"
here=$PWD
rm -rf builds && mkdir builds
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
cp -r sources "$work/sources"
cd "$work"
echo '{"type":"module","private":true}' >package.json
npm install --no-audit --no-fund --silent esbuild@0.27.7 hermes-engine-cli @ampproject/remapping@2 >/dev/null
tools=node_modules/hermes-engine-cli/linux64-bin
for version in 2.8.0 2.9.0; do
  out=$here/builds/$version
  mkdir -p "$out/crashes"
  npx esbuild sources/app.js --bundle --minify --format=iife --target=es2018 --define:RELEASE="$(echo $version | tr -d .)" \
    --sourcemap=external --outfile=bundle.js --log-level=error
  "$tools/hermesc" -O -emit-binary -output-source-map -out index.android.bundle bundle.js
  node --input-type=module -e '
    import { readFileSync, writeFileSync } from "node:fs";
    import remapping from "@ampproject/remapping";
    const map = (name) => JSON.parse(readFileSync(name));
    const composed = remapping(map("index.android.bundle.map"), (file) => (file.endsWith("bundle.js") ? map("bundle.js.map") : null));
    writeFileSync(`${process.argv[1]}/index.android.bundle.map`, JSON.stringify({ ...composed, file: "index.android.bundle" }));
    ' "$out"
  "$tools/hermes" -b index.android.bundle | node -e '
    const { readFileSync, writeFileSync } = require("node:fs");
    for (const part of readFileSync(0, "utf8").split("== ").slice(1)) {
      const [name, ...stack] = part.split("\n");
      writeFileSync(`${process.argv[1]}/crashes/${name}.txt`, stack.join("\n"));
    }' "$out"
done
