#!/bin/sh
# Runs each story of Survey.cs under Mono (Debian mono-mcs, mono-runtime), with and without debug information.
# The files named core-*.txt are written by hand in the form of the newer runtime, which is not to be had here.
here=$(cd "$(dirname "$0")" && pwd)
rm -rf /tmp/survey && mkdir /tmp/survey && cp "$here/Survey.cs" /tmp/survey/ && cd /tmp/survey || exit 1
for story in inner lambda async aggregate generic rethrown static; do
  mcs -debug -out:survey.exe Survey.cs && mono --debug survey.exe $story 2> "$here/mono-$story.txt"
  rm -f survey.exe.mdb survey.pdb
  mono survey.exe $story 2> "$here/mono-$story-no-lines.txt"
done
