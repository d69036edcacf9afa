import { readdirSync, readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { readCrashFile } from '../report/formats/crash-file.ts';
import type { FoundReport } from '../report/formats/found-report.ts';
import { sectionsOf } from '../symbols/index-file.ts';
import { indexMapping } from '../symbols/mapping/index-builder.ts';
import { MappingIndex } from '../symbols/mapping/lookup.ts';
import { judgeFit, wordFit } from './judge-fit.ts';
import { symbolicate } from './symbolicate.ts';
import { onlySource } from './testing/only-source.ts';

const folder = new URL('../../../demo/larkfield-guide/builds/', import.meta.url);
const builds = readdirSync(folder);
const mappings = builds.map((build) => {
  const built = indexMapping(new Uint8Array(readFileSync(new URL(`${build}/mapping.txt`, folder))));
  const opened = built.ok ? MappingIndex.open(sectionsOf(built.value)) : built;
  if (!opened.ok) throw new Error(opened.problem.message);
  return opened.value;
});

/** Distinct frames of the crashes of one build that the mapping of another covers. */
function coverage(build: string, mapping: MappingIndex) {
  const sum = { covered: 0, uncovered: 0 };
  for (const name of readdirSync(new URL(`${build}/crashes/`, folder))) {
    const read = readCrashFile(new Uint8Array(readFileSync(new URL(`${build}/crashes/${name}`, folder))), {
      receivedAt: '2026-01-01T00:00:00Z',
    });
    if (!read.ok) throw new Error(name);
    for (const crash of read.value)
      for (const { frames } of symbolicate(crash, onlySource('mapping', mapping), { ours: [] }).needs) {
        sum.covered += frames?.covered ?? 0;
        sum.uncovered += frames?.uncovered ?? 0;
      }
  }
  return sum;
}

describe('a mapping', () => {
  it.each(builds.flatMap((build, of) => builds.map((other, at) => [build, other, of === at, at] as const)))(
    'of crashes of %s, sent with %s: of its build is %s',
    (build, _other, isOwn, at) => {
      expect(judgeFit(coverage(build, mappings[at] as MappingIndex)).verdict).toBe(isOwn ? 'fits' : 'other-build');
    },
  );

  it('of another build names nothing, rather than something wrong', () => {
    const crash = readCrashFile(new Uint8Array(readFileSync(new URL('4.3.1/crashes/night-map.txt', folder))), {
      receivedAt: '2026-01-01T00:00:00Z',
    });
    if (!crash.ok) throw new Error('no crash');
    const [own, wrong] = ['4.3.1', '4.1.0'].map((build) =>
      symbolicate(crash.value[0] as FoundReport, onlySource('mapping', mappings[builds.indexOf(build)] as MappingIndex), { ours: [] }),
    );
    expect(own?.exceptions[0]?.frames.filter((frame) => frame.status === 'resolved').length).toBeGreaterThan(2);
    expect(wrong?.exceptions[0]?.frames.map((frame) => frame.status)).not.toContain('resolved');
    expect(wrong?.exceptions[0]?.frames[0]).toMatchObject({ status: 'no-symbols', line: 4009 });
    expect(wrong?.needs).toMatchObject([{ kind: 'mapping', found: true }]);
    expect(wordFit(wrong?.needs[0]?.frames as never)).toContain('another build');
  });

  it('is not blamed for one frame of many, nor trusted with none of two', () => {
    expect(judgeFit({ covered: 0, uncovered: 0 }).verdict).toBe('fits');
    expect(judgeFit({ covered: 20, uncovered: 1 }).verdict).toBe('fits');
    expect(judgeFit({ covered: 0, uncovered: 1 }).verdict).toBe('doubtful');
    expect(judgeFit({ covered: 0, uncovered: 2 }).verdict).toBe('doubtful');
    expect(judgeFit({ covered: 0, uncovered: 4 }).verdict).toBe('other-build');
    expect(judgeFit({ covered: 200_000, uncovered: 200_000 }).sure).toBe(1);
    expect(judgeFit({ covered: 1_000_000, uncovered: 0 }).sure).toBe(0);
  });

  it('is told with figures', () => {
    expect(wordFit({ covered: 20, uncovered: 0 })).toBeNull();
    expect(wordFit({ covered: 2, uncovered: 11 })).toBe(
      '11 of 13 frames do not occur in it; it is almost surely of another build (over 99.9 % sure)',
    );
    expect(wordFit({ covered: 0, uncovered: 2 })).toBe('2 of 2 frames do not occur in it; it is perhaps of another build (95.4 % sure)');
  });
});
