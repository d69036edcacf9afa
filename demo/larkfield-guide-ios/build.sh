#!/bin/sh
# Builds the app of each release with its dSYM bundle, and the crash reports that iOS writes of it: the addresses are those of
# its real code. Needs clang-19, lld-19 and llvm-19.
set -eu
cd "$(dirname "$0")"
rm -rf builds && mkdir builds
for version in 3.1.0 3.2.0; do
  number=$(echo $version | tr -d .)
  out=builds/$version
  work=$(mktemp -d)
  mkdir -p $out/crashes
  flags="-target arm64-apple-ios15.0 -O2 -g -ffile-prefix-map=$PWD/sources=/build/guide-ios -ffile-prefix-map=$PWD/../larkfield-guide/sound=/build/guide-ios/sound"
  clang-19 $flags -DRELEASE=$number -c "$PWD/sources/guide.m" -o $work/guide.o
  clang++-19 $flags -std=c++17 -DRELEASE=$number -ffreestanding -fno-exceptions -fno-rtti -c "$PWD/../larkfield-guide/sound/song.cpp" -o $work/song.o
  ld64.lld-19 -arch arm64 -platform_version ios 15.0 17.0 -undefined dynamic_lookup -e _main $work/guide.o $work/song.o -o $work/Guide
  dsymutil-19 $work/Guide -o $out/Guide.app.dSYM
  python3 write-reports.py $work/Guide $version $number $out/crashes
  rm -rf $work $out/Guide.app.dSYM/Contents/Resources/Relocations
done
