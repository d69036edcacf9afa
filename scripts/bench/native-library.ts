import { execFile } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { promisify } from 'node:util';

const run = promisify(execFile);
const units = 16;
const classesAUnit = 12;
const compiledAtOnce = 2;

/** Source of one unit: containers, lambdas and algorithms over types of its own, which the compiler copies and inlines. */
function unitSource(unit: number): string {
  const classes = Array.from(
    { length: classesAUnit },
    (_, index) => `
namespace part${unit} {
struct Bird${index} {
  int ring;
  std::string name;
  std::vector<double> weights;
  bool operator<(const Bird${index} &other) const { return name < other.name; }
};
std::map<std::string, Bird${index}> byName${index};
std::unordered_map<int, std::vector<Bird${index}>> byRing${index};
int count${index}(int birds) {
  std::vector<Bird${index}> seen;
  for (int bird = 0; bird < birds; bird++) seen.push_back(Bird${index}{bird, "bird" + std::to_string(bird), {1.0 * bird}});
  std::sort(seen.begin(), seen.end());
  std::stable_sort(seen.begin(), seen.end(), [](const auto &a, const auto &b) { return a.ring < b.ring; });
  for (auto &bird : seen) {
    byName${index}[bird.name] = bird;
    byRing${index}[bird.ring % 7].push_back(bird);
  }
  std::function<int(const Bird${index} &)> weigh = [birds](const Bird${index} &bird) { return bird.ring * birds; };
  return std::accumulate(seen.begin(), seen.end(), 0, [&](int sum, const Bird${index} &bird) { return sum + weigh(bird); });
}
} // namespace part${unit}`,
  );
  const headers = ['algorithm', 'functional', 'map', 'numeric', 'string', 'unordered_map', 'vector'];
  return `${headers.map((header) => `#include <${header}>`).join('\n')}\n${classes.join('\n')}\n`;
}

/** Compiles a library of more than 60 MB with debug information, as a large app links one. */
export async function buildNativeLibrary(folder: string): Promise<string> {
  const waiting = Array.from({ length: units }, (_, unit) => unit);
  const compile = async () => {
    for (let unit = waiting.shift(); unit !== undefined; unit = waiting.shift()) {
      const source = join(folder, `unit${unit}.cpp`);
      writeFileSync(source, unitSource(unit));
      await run('clang++-19', ['-std=c++17', '-g', '-O2', '-fPIC', '-c', source, '-o', `${source}.o`]);
    }
  };
  await Promise.all(Array.from({ length: compiledAtOnce }, compile));
  const library = join(folder, 'libbirds.so');
  const objects = Array.from({ length: units }, (_, unit) => join(folder, `unit${unit}.cpp.o`));
  await run('clang++-19', ['-shared', '-fuse-ld=lld-19', '-Wl,--build-id', ...objects, '-o', library]);
  return library;
}
