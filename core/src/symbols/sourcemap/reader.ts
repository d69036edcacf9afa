import { failure, type Result, success } from '../../result.ts';
import { detectMapping } from '../mapping/detect.ts';
import { unpackedName, unpackedSource } from '../packed.ts';
import { type Indexing, type Part, readWhole, type SymbolFileProblem, symbolReader } from '../reader.ts';
import { scriptName } from '../script-name.ts';
import { indexSourceMap } from './index-builder.ts';
import { SourceMapIndex } from './lookup.ts';
import { holdsMap, isScriptName, mapInside } from './script-with-map.ts';

export const sourceMapReader = symbolReader({
  kind: 'sourcemap',
  open: (sections) => SourceMapIndex.open(sections),
  formats: [
    {
      // Only its name tells a script, which may hold its map.
      format: 'script',
      title: 'script with its source map',
      detect: (head, fileName) => isScriptName(unpackedName(fileName)) && !head.includes(0),
      isMeant: async (_fileName, source) => holdsMap(await unpackedSource(source)),
      index: async (source, { fileName, progress }) => {
        const inside = mapInside(await readWhole(source));
        return inside.ok ? indexMap(inside.value, fileName, progress, 'of the script') : failure('nothing-inside', inside.problem.message);
      },
    },
    {
      format: 'sourcemap',
      title: 'source map',
      // One JSON object; its keys may come in any order and behind megabytes of text.
      detect: (head) => /^\s*(?:\)\]\}'[^\n]*\n\s*)?\{/.test(new TextDecoder().decode(head.subarray(0, 256))) && !detectMapping(head).ok,
      isMeant: (fileName) => /\.map$/i.test(unpackedName(fileName)),
      index: async (source, { fileName, progress }) => indexMap(await readWhole(source), fileName.replace(/\.map$/, ''), progress),
    },
  ],
});

/** A map that names no script is of the one that its file is named after; one inside a script is of that script. */
function indexMap(
  bytes: Uint8Array,
  script: string,
  progress: Indexing['progress'],
  named: 'by itself' | 'of the script' = 'by itself',
): Result<Part[], SymbolFileProblem> {
  const indexed = indexSourceMap(bytes, progress ? { progress } : {});
  if (!indexed.ok) return failure('damaged-symbol-file', indexed.problem.message);
  const { file, debugId } = indexed.value.summary;
  const name = file === null || named === 'of the script' ? script : scriptName(file);
  return success([{ kind: 'sourcemap', name, symbolId: debugId, built: indexed.value }]);
}
