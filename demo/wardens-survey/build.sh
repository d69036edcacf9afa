#!/bin/sh
# Compiles each release of Wardens' Survey, writes its debug information as a portable PDB, and runs it without for the stacks it
# prints. Needs Debian mono-mcs, mono-runtime, libmono-cecil-private-cil, libmono-compilerservices-symbolwriter4.0-cil.
set -eu
cd "$(dirname "$0")"
here=$PWD
rm -rf builds && mkdir builds
for version in 2.5.0 2.6.0; do
  out=$here/builds/$version
  work=$(mktemp -d)
  mkdir -p "$out/crashes" "$work/Survey"
  cp sources/Survey.cs "$work/Survey/"
  cd "$work"
  cp /usr/lib/mono/gac/Mono.Cecil/0.11*/Mono.Cecil.dll /usr/lib/mono/gac/Mono.CompilerServices.SymbolWriter/*/*.dll .
  mcs -out:record.exe -r:Mono.Cecil.dll -r:Mono.CompilerServices.SymbolWriter.dll "$here/../../core/samples/dotnet-symbols/Record.cs"
  calendar=$([ $version = 2.6.0 ] && echo -define:CALENDAR || true)
  mcs -debug $calendar -out:Larkfield.Survey.exe Survey/Survey.cs
  mkdir portable && mono record.exe convert Larkfield.Survey.exe portable/Larkfield.Survey.dll portable
  cp portable/Larkfield.Survey.dll portable/Larkfield.Survey.pdb "$out/"
  rm portable/*.pdb
  for story in plot summary save $([ $version = 2.6.0 ] && echo calendar || true); do
    # The console and the log each get it; one is enough.
    mono --debug portable/Larkfield.Survey.dll $story 2>&1 | sed '/^\[ERROR\]/,$d; /^$/d' >"$out/crashes/$story.txt" || true
  done
  cd "$here"
  rm -rf "$work"
done
