import { execFileSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { openNativeBuild, type ProgramBuild } from '@rough-ember/demo/labelled/program-build';

const levels = ['O0', 'O1', 'O3', 'Os'] as const;

/** The demo's native library at several optimisation levels; none where there is no compiler. */
export async function optimisedBuilds(folder: string): Promise<ProgramBuild[]> {
  const builds: ProgramBuild[] = [];
  for (const level of levels) {
    const library = join(folder, `libsong-${level}.so`);
    try {
      execFileSync(
        'clang++-19',
        [
          ...[
            '--target=aarch64-linux-android29',
            '-std=c++17',
            `-${level}`,
            '-g',
            '-DRELEASE=430',
            '-fPIC',
            '-shared',
            '-nostdlib',
            '-ffreestanding',
          ],
          ...['-fno-exceptions', '-fno-rtti', '-fuse-ld=lld-19', '-Wl,--build-id', 'demo/larkfield-guide/sound/song.cpp', '-o', library],
        ],
        { stdio: 'ignore' },
      );
    } catch {
      return builds;
    }
    builds.push(
      await openNativeBuild(readFileSync(library), {
        name: `larkfield-guide ${level} native`,
        file: 'libsong.so',
        version: '4.3.0',
        runtime: 'native',
      }),
    );
  }
  return builds;
}
