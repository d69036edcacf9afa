#!/bin/sh
# Makes the files of this folder: Survey.dll with a portable PDB beside it and one inside it (mcs, and a general metadata
# library to write the open form), and what that library reads from them. Needs Debian mono-mcs, mono-runtime,
# libmono-cecil-private-cil. Json.dll and Json.pdb are the "Portable" pair of the npm package
# jillejr.newtonsoft.json-for-unity 12.0.101 (MIT), which Roslyn compiled; put its folder in JSON_FOLDER to record it anew.
set -e
here=$(cd "$(dirname "$0")" && pwd)
work=$(mktemp -d) && cd "$work"
cecil=$(ls -d /usr/lib/mono/gac/Mono.Cecil/0.11*) && cp "$cecil/Mono.Cecil.dll" . && cp /usr/lib/mono/gac/Mono.CompilerServices.SymbolWriter/*/*.dll .
mcs -out:record.exe -r:Mono.Cecil.dll -r:Mono.CompilerServices.SymbolWriter.dll "$here/Record.cs"
mkdir source separate embedded && cp "$here/../dotnet/Survey.cs" source/ && cp "$here/Overloads.cs" source/
mcs -debug -target:exe -out:Survey.exe source/Survey.cs source/Overloads.cs -main:Larkfield.Survey.Overloads
mono record.exe convert Survey.exe separate/Survey.dll portable
mono record.exe convert Survey.exe embedded/Survey.dll embedded
mono record.exe separate/Survey.dll separate/Survey.pdb > Survey.tsv
cp separate/Survey.dll separate/Survey.pdb "$here/" && cp embedded/Survey.dll "$here/SurveyEmbedded.dll" && gzip -9nc Survey.tsv > "$here/Survey.tsv.gz"
# The crashes as the runtime prints them with the PDB at hand, and two of them without.
cd separate
for story in inner lambda async aggregate generic rethrown static overloads; do
  mono --debug Survey.dll $story > "$here/$story-lines.stack" 2>&1 || true
done
rm Survey.pdb
for story in async overloads; do mono --debug Survey.dll $story > "$here/$story.stack" 2>&1 || true; done
if [ -n "$JSON_FOLDER" ]; then
  cd "$work" && cp "$JSON_FOLDER/Newtonsoft.Json.dll" "$JSON_FOLDER/Newtonsoft.Json.pdb" .
  mono record.exe Newtonsoft.Json.dll Newtonsoft.Json.pdb > Json.tsv
  gzip -9nc Newtonsoft.Json.dll > "$here/Json.dll.gz"; gzip -9nc Newtonsoft.Json.pdb > "$here/Json.pdb.gz"; gzip -9nc Json.tsv > "$here/Json.tsv.gz"
fi
rm -rf "$work"
