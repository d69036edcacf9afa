#!/bin/sh
# Builds a program of C++ (echo-scan, tide-table) with two compilers at several levels of optimisation, runs each build, and keeps
# its debug file and what it printed in built/. Usage: build-native.sh PROGRAM
# Needs clang-19, lld-19, llvm-19 and g++.
set -eu
cd "$(dirname "$0")"
program=$1
rm -rf "$program/built"
mkdir "$program/built"
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
build() { # NAME ID FRAMES COMPILER OPTIONS…
  name=$1 id=$2 frames=$3
  shift 3
  "$@" -g -gdwarf-4 "-ffile-prefix-map=$PWD=/src" -std=c++17 -fasynchronous-unwind-tables -pie -fPIE "-DBUILD_ID=\"$id\"" "-Wl,--build-id=0x$id" -I. "-I$program/sources" \
    "$program"/sources/*.cpp run-causes.cpp -o "$work/$name"
  "$work/$name" "$frames" 2>/dev/null >"$program/built/$name.stack"
  llvm-objcopy-19 --only-keep-debug --keep-section=.symtab "$work/$name" "$work/$name.debug"
  gzip -9nc "$work/$name.debug" >"$program/built/$name.debug.gz"
}
build clang-O0 00000000000000000000000000000000000c1a00 200 clang++-19 -O0
build clang-O2 00000000000000000000000000000000000c1a02 120 clang++-19 -O2
build clang-Os 00000000000000000000000000000000000c1a05 60 clang++-19 -Os
build clang-lto 00000000000000000000000000000000000c1a0f 97 clang++-19 -O3 -flto --ld-path=/usr/bin/ld.lld-19
build gcc-O2 000000000000000000000000000000000006cc02 77 g++ -O2
