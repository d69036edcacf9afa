import { failure, success } from '../../result.ts';
import { symbolReader } from '../reader.ts';
import { detectMapping } from './detect.ts';
import { MappingIndexBuilder } from './index-builder.ts';
import { MappingIndex } from './lookup.ts';

const chunkBytes = 1 << 20;

export const mappingReader = symbolReader({
  kind: 'mapping',
  open: (sections) => MappingIndex.open(sections),
  formats: [
    {
      format: 'mapping',
      title: 'obfuscation mapping',
      detect: (head) => detectMapping(head).ok,
      index: async (source, { progress }) => {
        const builder = new MappingIndexBuilder();
        for (let at = 0; at < source.sizeBytes; at += chunkBytes) {
          progress?.(at, source.sizeBytes);
          const added = builder.add(await source.read(at, Math.min(chunkBytes, source.sizeBytes - at)));
          if (!added.ok) return failure('damaged-symbol-file', added.problem.message, added.problem.line);
        }
        const finished = builder.finish();
        if (!finished.ok) return failure('damaged-symbol-file', finished.problem.message, finished.problem.line);
        return success([{ kind: 'mapping', name: null, symbolId: finished.value.summary.mapId, built: finished.value }]);
      },
    },
  ],
});
