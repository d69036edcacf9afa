import { describe, expect, it } from 'vitest';
import { sourceOf } from '../bytes/byte-source.ts';
import { ObfuscationMapIndex } from '../symbols/dart/obfuscation-map.ts';
import { sectionsOf } from '../symbols/index-file.ts';
import { indexSymbolFile } from '../symbols/index-symbol-file.ts';
import type { MappingIndex } from '../symbols/mapping/lookup.ts';
import { openSymbolIndex } from '../symbols/open-index.ts';
import { namesObfuscatedType, restoreDartMessage, restoreMessage } from './message-names.ts';

async function open(text: string) {
  const indexed = await indexSymbolFile(sourceOf(new TextEncoder().encode(text)), { fileName: 'map' });
  const [part] = indexed.ok ? indexed.value : [];
  if (!part) throw new Error(indexed.ok ? 'nothing inside' : indexed.problem.message);
  const opened = openSymbolIndex(sectionsOf(part.built));
  if (!opened.ok) throw new Error(opened.problem.message);
  return opened.value.index;
}

const mapping = `com.larkfield.guide.Species -> a:
    1:1:java.lang.String name():7:7 -> a
com.larkfield.guide.NestBox -> b.c:
    java.lang.String label -> d
    1:1:void open():12:12 -> e
    2:2:void close():20:20 -> f
    3:3:void close(int):30:30 -> f
    4:4:void shut():40:40 -> f
`;

describe('messages of a JVM', () => {
  it.each([
    // A class with dots, alone, in an array, at the end of a sentence; nothing that only looks like one.
    ['no adapter for b.c', 'no adapter for com.larkfield.guide.NestBox'],
    ['no adapter for b.c.', 'no adapter for com.larkfield.guide.NestBox.'],
    ['stored b.c[] of 3', 'stored com.larkfield.guide.NestBox[] of 3'],
    ['see https://b.c/help and mail to me@b.c or file:b.c', 'see https://b.c/help and mail to me@b.c or file:b.c'],
    ['b.cd and x.b.c', 'b.cd and x.b.c'],
    ['b.c:443 refused', 'b.c:443 refused'],
    // "a" is a word, unless the runtime says that a class stands there.
    ['a bird is not a tree', 'a bird is not a tree'],
    ['a cannot be cast to b.c', 'com.larkfield.guide.Species cannot be cast to com.larkfield.guide.NestBox'],
    [
      'class a cannot be cast to class b.c (a and b.c are in unnamed module)',
      'class com.larkfield.guide.Species cannot be cast to class com.larkfield.guide.NestBox (a and com.larkfield.guide.NestBox are in unnamed module)',
    ],
    [
      "Attempt to invoke virtual method 'java.lang.String a.a()' on a null object reference",
      "Attempt to invoke virtual method 'java.lang.String com.larkfield.guide.Species.name()' on a null object reference",
    ],
    [
      "Attempt to invoke virtual method 'void b.c.e(int, a)' on a null object reference",
      "Attempt to invoke virtual method 'void com.larkfield.guide.NestBox.open(int, com.larkfield.guide.Species)' on a null object reference",
    ],
    // One name for several methods stays.
    [
      "Attempt to invoke interface method 'void b.c.f()' on a null object reference",
      "Attempt to invoke interface method 'void com.larkfield.guide.NestBox.f()' on a null object reference",
    ],
  ])('%s', async (printed, restored) => {
    expect(restoreMessage(printed, (await open(mapping)) as MappingIndex, null)).toBe(restored);
  });

  it('that repeat the header of their cause have its class restored, even a single letter', async () => {
    const index = (await open(mapping)) as MappingIndex;
    expect(restoreMessage('a: a was here', index, 'a')).toBe('com.larkfield.guide.Species: a was here');
    expect(restoreMessage('a', index, 'a')).toBe('com.larkfield.guide.Species');
    expect(restoreMessage('a bird', index, 'a')).toBe('a bird');
  });
});

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
