import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { guideBuilds } from '../../../demo/src/guide-builds.ts';
import { readCrashFile } from '../report/formats/crash-file.ts';
import { symbolicate } from '../symbolicate/symbolicate.ts';
import { onlySource } from '../symbolicate/testing/only-source.ts';
import { writeIndexFile } from '../symbols/index-file.ts';
import { indexMapping } from '../symbols/mapping/index-builder.ts';
import { MappingIndex } from '../symbols/mapping/lookup.ts';
import { bareContext, groupReport } from './group-report.ts';
import { writtenFunction } from './jvm-names.ts';
import { normaliseMessage } from './normalise-message.ts';

const builds = new URL('../../../demo/larkfield-guide/builds/', import.meta.url);
const file = (path: string) => readFileSync(new URL(path, builds));

function group(text: Uint8Array, mapping: Uint8Array | null, build = '1') {
  const read = readCrashFile(text, { receivedAt: '2026-01-01T00:00:00Z' });
  if (!read.ok) throw new Error(read.problem.message);
  const indexed = mapping && indexMapping(mapping);
  const opened = indexed?.ok ? MappingIndex.open(writeIndexFile(indexed.value)) : null;
  const index = opened?.ok ? opened.value : null;
  return groupReport(
    bareContext('crash', build),
    symbolicate(read.value[0] as never, onlySource('mapping', index), { ours: ['com.larkfield'] }),
  );
}
const groupScreen = (version: string, screen: string, mapped = true) =>
  group(file(`${version}/crashes/${screen}.txt`), mapped ? file(`${version}/mapping.txt`) : null, version);
const groupText = (...lines: string[]) => group(new TextEncoder().encode(lines.join('\n')), null);

describe('grouping of the obfuscated guide', () => {
  it('puts a crash of two builds in one case and two crashes of one build in two', () => {
    const screensByKey = new Map<string, Set<string>>();
    for (const { version, screens } of guideBuilds)
      for (const screen of screens) {
        const { key } = groupScreen(version, screen);
        screensByKey.set(key, (screensByKey.get(key) ?? new Set()).add(screen));
      }
    expect([...screensByKey.values()].map((screens) => [...screens])).toEqual(
      [...new Set(guideBuilds.flatMap((build) => build.screens))].map((screen) => [screen]),
    );
  });

  it.each(guideBuilds.flatMap(({ version, screens }) => screens.map((screen) => [version, screen] as const)))(
    'gives %s %s the key that the plain program has',
    (version, screen) => expect(groupScreen(version, screen).key).toBe(group(file(`${version}/expected/${screen}.txt`), null).key),
  );

  it.each([
    ['night-map', 'NullPointerException', 'NightMap.tileFor'],
    ['sighting-form', 'EOFException', 'SightingStore.write'],
    ['tides', 'SocketTimeoutException', 'TideClient.connect'],
    ['track-import', 'NumberFormatException', 'TrackImport.point'],
    ['field-notes', 'ConcurrentModificationException', 'FieldNotes.tidy'],
    ['species', 'StringIndexOutOfBoundsException', 'SpeciesIndex.build'],
  ])('names the crash of %s by what and where', (screen, what, where) => {
    expect(groupScreen('4.3.0', screen)).toMatchObject({ what, where, provisional: false });
  });

  it('says which frames were kept and why the others were not', () => {
    const { explanation } = groupScreen('4.3.0', 'night-map');
    expect(explanation.kept.map((one) => one.function.replace('com.larkfield.guide.map.', ''))).toEqual([
      'NightMap.tileFor',
      'MapLayer.draw',
      'MapScreen.onRedraw',
    ]);
    expect(explanation.skipped[0]).toEqual({ frame: 0, rule: 'reports-trouble' });
  });

  it('is provisional while the mapping is missing, and apart for each build', () => {
    const before = groupScreen('4.3.0', 'night-map', false);
    expect(before).toMatchObject({ provisional: true, where: 'a.a(SourceFile:4009)' });
    expect(before.key).not.toBe(groupScreen('4.2.0', 'settings', false).key);
  });
});

describe('a key', () => {
  const thrown = (frame: string) =>
    groupText('Exception in thread "main" java.lang.IllegalStateException: x', ...frame.split('|').map((one) => `\tat ${one}`)).key;

  it.each([
    ['another line', 'com.larkfield.A.b(A.kt:1)', 'com.larkfield.A.b(A.kt:9)'],
    ['another lambda number', 'com.larkfield.A.lambda$go$0(A.java:1)', 'com.larkfield.A.lambda$go$3(A.java:1)'],
    ['a lambda and its method', 'com.larkfield.A.lambda$go$0(A.java:1)|com.larkfield.A.go(A.java:1)', 'com.larkfield.A.go(A.java:1)'],
    ['another anonymous class', 'com.larkfield.A$1.b(A.kt:1)', 'com.larkfield.A$2.b(A.kt:1)'],
    [
      'a bridge between',
      'com.larkfield.A.b(A.kt:1)|com.larkfield.A.access$100(A.kt:1)|com.larkfield.C.d(C.kt:1)',
      'com.larkfield.A.b(A.kt:1)|com.larkfield.C.d(C.kt:1)',
    ],
    ['deeper recursion', 'com.larkfield.A.b(A.kt:1)|com.larkfield.A.b(A.kt:1)|com.larkfield.A.b(A.kt:1)', 'com.larkfield.A.b(A.kt:1)'],
    ['other library frames', 'java.util.List.x(L.java:1)|com.larkfield.A.b(A.kt:1)', 'java.util.Set.y(S.java:1)|com.larkfield.A.b(A.kt:1)'],
  ])('is the same with %s', (_, one, other) => expect(thrown(one)).toBe(thrown(other)));

  it.each([
    ['another function', 'com.larkfield.A.b(A.kt:1)', 'com.larkfield.A.c(A.kt:1)'],
    ['another caller', 'com.larkfield.A.b(A.kt:1)|com.larkfield.C.d(C.kt:1)', 'com.larkfield.A.b(A.kt:1)|com.larkfield.E.f(E.kt:1)'],
  ])('differs with %s', (_, one, other) => expect(thrown(one)).not.toBe(thrown(other)));

  it('falls back to library frames, and then to the message', () => {
    expect(groupText('Exception in thread "main" java.lang.Error: x', '\tat java.lang.Thread.run(Thread.java:1)').explanation.basis).toBe(
      'outside-frames',
    );
    const bare = groupText('Exception in thread "main" java.lang.Error: no tile 17 in "coast"', '');
    expect(bare).toMatchObject({ where: 'no tile <number> in <quoted>', explanation: { basis: 'message' } });
  });
});

describe('names as they were written', () => {
  it.each([
    ['com.x.Screen$load$1.invokeSuspend', 'com.x.Screen.load'],
    ['com.x.Screen$Row.bind', 'com.x.Screen$Row.bind'],
    ['com.x.Screen$$Lambda$14.run', 'com.x.Screen.run'],
    ['com.x.Screen$$ExternalSyntheticLambda0.onClick', 'com.x.Screen.onClick'],
    ['com.x.Screen.open$default', 'com.x.Screen.open'],
    ['com.x.Screen.price-a1B2c3D', 'com.x.Screen.price'],
  ])('%s is %s', (name, written) => expect(writtenFunction(name)).toBe(written));
});

describe('a normalised message', () => {
  it.each([
    ['no tile 8f3a1122-4b at /sdcard/maps/a.png after 12.5 ms', 'no tile <id> at <path> after <number> ms'],
    ['Index 12 out of bounds for length 7', 'Index <number> out of bounds for length <number>'],
    ['cannot open https://tides.example/x?y=1 for ines@larkfield.example', 'cannot open <address> for <mail>'],
    ['key "coast" is missing\nsecond line', 'key <quoted> is missing'],
  ])('%j becomes %j', (message, normalised) => expect(normaliseMessage(message)).toBe(normalised));
});
