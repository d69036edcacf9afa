import { failure, success } from '../../result.ts';
import { unpackedName } from '../packed.ts';
import { readWhole, symbolReader } from '../reader.ts';
import { indexObfuscationMap, isObfuscationMap, ObfuscationMapIndex } from './obfuscation-map.ts';

export const obfuscationMapReader = symbolReader({
  kind: 'obfuscation-map',
  open: (sections) => ObfuscationMapIndex.open(sections),
  formats: [
    {
      format: 'obfuscation-map',
      title: 'obfuscation map',
      detect: isObfuscationMap,
      isMeant: (fileName) => /obfuscation[-_.]?map[^/]*\.json$/i.test(unpackedName(fileName)),
      index: async (source) => {
        const indexed = indexObfuscationMap(await readWhole(source));
        if (!indexed.ok) return failure('damaged-symbol-file', indexed.problem.message);
        return success([{ kind: 'obfuscation-map', name: null, symbolId: null, built: indexed.value }]);
      },
    },
  ],
});
