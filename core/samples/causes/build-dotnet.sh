#!/bin/sh
# Builds a program of C# (plot-survey, seed-bank) as debug and release, runs each with and without its debug file, and keeps what
# the runtime printed in built/. Usage: build-dotnet.sh PROGRAM
# Needs Debian's mono-mcs and mono-runtime.
set -eu
cd "$(dirname "$0")"
program=$1
rm -rf "$program/built"
mkdir "$program/built"
work=$(mktemp -d)
trap 'rm -rf "$work"' EXIT
build() { # NAME RUN-OPTION OPTIONS…
  name=$1 run=$2
  shift 2
  mcs "$@" -nowarn:0162 -out:"$work/$name.exe" RunCauses.cs "$program"/sources/*.cs
  mono $run "$work/$name.exe" | sed "s#$PWD/##" >"$program/built/$name.stack"
}
build debug --debug -debug
build release --debug -debug -optimize
build no-lines -O=all -optimize
build not-inlined -O=-inline -optimize
