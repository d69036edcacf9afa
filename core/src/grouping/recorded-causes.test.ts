import { beforeAll, describe, expect, it } from 'vitest';
import { bareContext, groupReport } from './group-report.ts';
import { type RecordedCause, recordedCauses, tunedPrograms } from './testing/recorded-causes.ts';

const recorded = new Map<string, RecordedCause[]>();
beforeAll(async () => {
  for (const program of tunedPrograms) recorded.set(program, await recordedCauses(program));
});
const keyOf = ({ build, readable }: RecordedCause) => groupReport(bareContext('crash', build), readable).key;

/** The builds whose report of a cause is in a case other than that of most, by cause. */
function apart(program: string): Record<string, string[]> {
  const byCause = new Map<string, Map<string, string[]>>();
  for (const one of recorded.get(program) ?? []) {
    const keys = byCause.get(one.cause) ?? new Map<string, string[]>();
    byCause.set(one.cause, keys.set(keyOf(one), [...(keys.get(keyOf(one)) ?? []), one.build]));
  }
  return Object.fromEntries(
    [...byCause].flatMap(([cause, keys]) => {
      const [, ...rest] = [...keys.values()].sort((one, other) => other.length - one.length);
      return rest.length > 0 ? [[cause.replace(/^\S+ /, ''), rest.flat().sort()]] : [];
    }),
  );
}

describe('one cause is one case over the builds of', () => {
  it('a program of Java and Kotlin, with and without lines, renamed, optimised, and for older machines', () => {
    // An obfuscator that copies a default method into the class leaves nothing of the interface but the file.
    expect(apart('ringing-desk')).toEqual({ defaultMethod: ['backported'] });
  });

  it('a program of C++, by two compilers at several levels', () => {
    // The closure was compiled away, and the debug information says nothing of it.
    expect(apart('echo-scan')).toEqual({ endlessFunction: ['clang-O0', 'clang-lto'] });
  });

  it('a program of C#, with and without lines', () => {
    // The runtime put the method into its caller.
    expect(apart('plot-survey')).toEqual({ generic: ['no-lines', 'release'] });
  });

  it('a script, on four engines and in five builds', () => {
    // In strict mode one engine gives the frame of a function to the call that it ends with: nothing is left of it.
    const leavesFrames = (build: string) => !build.endsWith('.javascriptcore');
    const left = Object.entries(apart('nest-log')).map(([cause, builds]) => [cause, builds.filter(leavesFrames)] as const);
    expect(Object.fromEntries(left.filter(([, builds]) => builds.length > 0))).toEqual({
      // The engine alone names a callback and a computed property, and knows less than the text of the source.
      droppedRow: ['plain.v8'],
      noEgg: ['plain.v8'],
      // Put into its caller, and the position that is told is the caller's own.
      noColour: ['es5.spidermonkey', 'rolled.spidermonkey'],
      unknownShelf: ['rolled.v8'],
    });
  });
});

it('no two causes are one case', () => {
  for (const reports of recorded.values()) {
    const causes = new Map<string, Set<string>>();
    for (const one of reports) causes.set(keyOf(one), (causes.get(keyOf(one)) ?? new Set()).add(one.cause));
    expect([...causes.values()].filter((of) => of.size > 1)).toEqual([]);
  }
});
