#!/bin/sh
# Builds the debug file of each release of Trails, its obfuscation map, and the stacks that Dart's runtime prints of it: the
# addresses are those behind the calls of its real code. Needs clang-19, lld-19 and llvm-19.
set -eu
cd "$(dirname "$0")"
rm -rf builds && mkdir builds
for version in 1.6.0 1.7.0; do
  number=$(echo $version | tr -d .)
  out=builds/$version
  work=$(mktemp -d)
  mkdir -p $out/crashes
  clang-19 --target=aarch64-linux-android29 -O2 -g -gdwarf-4 -fno-optimize-sibling-calls -DRELEASE=$number -ffile-prefix-map="$PWD"=. -emit-llvm -S sources/track.c -o $work/track.ll
  # Names as the debug information of Dart has them: with their class, and closures inside their method.
  sed -i -E '/DISubprogram/ { s/name: "([A-Za-z]+)_([a-zA-Z]+)_closure"/name: "\1.\2.<anonymous closure>"/; s/name: "([A-Z][A-Za-z]+)_([a-zA-Z]+)"/name: "\1.\2"/ }' $work/track.ll
  clang-19 --target=aarch64-linux-android29 -O1 -fPIC -c $work/track.ll -o $work/track.o
  ld.lld-19 -shared --build-id --unresolved-symbols=ignore-all $work/track.o -o $out/app.android-arm64.symbols
  python3 write-stacks.py $out/app.android-arm64.symbols $version $out
  rm -rf $work
done
