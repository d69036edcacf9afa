import { describe, expect, it } from 'vitest';
import { sourceOf } from '../bytes/byte-source.ts';
import { sectionsOf } from '../symbols/index-file.ts';
import { indexSymbolFile } from '../symbols/index-symbol-file.ts';
import { ObfuscationMapIndex } from '../symbols/obfuscation-map/obfuscation-map.ts';
import { openSymbolIndex } from '../symbols/open-index.ts';
import { namesObfuscatedType, restoreDartMessage } from './dart-messages.ts';

async function open(text: string) {
  const indexed = await indexSymbolFile(sourceOf(new TextEncoder().encode(text)), { fileName: 'map' });
  const [part] = indexed.ok ? indexed.value : [];
  if (!part) throw new Error(indexed.ok ? 'nothing inside' : indexed.problem.message);
  const opened = openSymbolIndex(sectionsOf(part.built));
  if (!opened.ok) throw new Error(opened.problem.message);
  return opened.value.index;
}

describe('messages of Dart that was compiled ahead of time', () => {
  const list = '["Waypoint","aB","Track","cD","main","main","List","List"]';

  it.each([
    ["type 'aB' is not a subtype of type 'cD' in type cast", "type 'Waypoint' is not a subtype of type 'Track' in type cast"],
    ["type 'List<aB>' is not a subtype of type 'Map<String, cD>'", "type 'List<Waypoint>' is not a subtype of type 'Map<String, Track>'"],
    ["Instance of 'aB'", "Instance of 'Waypoint'"],
    ['aB outside quotes stays', 'aB outside quotes stays'],
    ["can't find 'aBc'", "can't find 'aBc'"],
  ])('%s', async (printed, restored) => {
    const map = await open(list);
    expect(restoreDartMessage(printed, map as ObfuscationMapIndex)).toBe(restored);
  });

  it('ask for the map only when a name looks renamed', () => {
    expect(["Instance of 'aB'", "type 'List<aB>' of", "Instance of 'Waypoint'", 'Bad state: no waypoint'].map(namesObfuscatedType)).toEqual(
      [true, true, false, false],
    );
  });

  it('tell what is wrong with a map that is none', async () => {
    for (const [text, reason] of [
      ['["a"]', 'in pairs'],
      ['["a", 3]', 'entry 0'],
      ['["a", "b"', 'not valid JSON'],
    ] as const) {
      const indexed = await indexSymbolFile(sourceOf(new TextEncoder().encode(text)), { fileName: 'map.json' });
      expect(indexed.ok ? '' : indexed.problem.message).toContain(reason);
    }
    expect(ObfuscationMapIndex.open(new Uint8Array(40)).ok).toBe(false);
  });
});
