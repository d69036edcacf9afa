#!/bin/sh
# Builds libsong.so of each release with its debug information, and the tombstone that Android writes when a
# sample outside of a window is asked for: the addresses are those of the trap and of the call that leads to it. Needs clang-19, lld-19 and llvm-19.
set -eu
cd "$(dirname "$0")"
for version in 4.3.0 4.3.1; do
  number=$(echo $version | tr -d .)
  out=../builds/$version/libsong.so
  clang++-19 --target=aarch64-linux-android29 -std=c++17 -O2 -g -gdwarf-4 -DRELEASE=$number -ffile-prefix-map="$PWD"=/build/larkfield-guide/sound \
    -fPIC -shared -nostdlib -ffreestanding -fno-exceptions -fno-rtti -fuse-ld=lld-19 -Wl,--build-id song.cpp -o $out
  python3 write-tombstone.py $out ../builds/$version/crashes/song.txt
done
