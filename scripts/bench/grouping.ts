import { type Algorithm, algorithms, currentAlgorithm } from '@rough-ember/core/grouping/function-names';
import { bareContext, groupReport } from '@rough-ember/core/grouping/group-report';
import { ruleSet } from '@rough-ember/core/grouping/rules/apply-rules';
import type { ReadableReport } from '@rough-ember/core/symbolicate/readable-report';
import { symbolicate } from '@rough-ember/core/symbolicate/symbolicate';
import { labelledReports } from '@rough-ember/demo/labelled/labelled-reports';
import { openBuild } from '@rough-ember/demo/labelled/program-build';
import { larkfieldApps } from '@rough-ember/demo/larkfield';
import { type CausesProgram, recordedCauses, tunedPrograms, unseenPrograms } from '../../core/src/grouping/testing/recorded-causes.ts';
import type { Bench, Figure } from './figure.ts';
import { optimisedBuilds } from './optimised-builds.ts';

/** A report whose cause is known, read with the symbol files of its build. */
interface Labelled {
  readonly cause: string;
  /** The cause that this one differs from by nothing but the message, or the cause itself. */
  readonly causeByStack: string;
  readonly build: string;
  readonly readable: ReadableReport;
}

const wanted = { causes: 180, reports: 4_000 };

/** Reports put together from what the demo's builds print. */
async function ofDemo(folder: string): Promise<Labelled[]> {
  const ofReleases = await Promise.all(larkfieldApps.flatMap((app) => app.releases.map((release) => openBuild(app, release))));
  const builds = [...ofReleases.flat(), ...(await optimisedBuilds(folder))];
  return labelledReports(builds, wanted).map(({ cause, causeByStack, build, exceptions }) => ({
    cause: `demo ${cause}`,
    causeByStack: `demo ${causeByStack}`,
    build: `${build.version} ${build.build}`,
    readable: symbolicate({ exceptions: [...exceptions], threads: [] }, build.source, { ours: build.ours }),
  }));
}

/** Reports as builds of programs really printed them, one of each cause, build and engine. */
async function ofPrograms(programs: readonly CausesProgram[]): Promise<Labelled[]> {
  const recorded = await Promise.all(programs.map(recordedCauses));
  return recorded.flat().map(({ cause, build, readable }) => ({ cause, causeByStack: cause, build, readable }));
}

interface Agreement {
  readonly precision: number;
  readonly recall: number;
  readonly words: string;
}

/** Of all pairs of reports in one case, the share with one cause; and of all pairs with one cause, the share in one case. */
function agreement(reports: readonly Labelled[], algorithm: Algorithm = currentAlgorithm): Agreement {
  const rules = ruleSet([{ line: 1, verb: 'algorithm', algorithm }]);
  const pairs = new Map<string, number>();
  const pairsByStack = new Map<string, number>();
  const ofCase = new Map<string, number>();
  const ofCause = new Map<string, number>();
  for (const { cause, causeByStack, build, readable } of reports) {
    const { key } = groupReport(bareContext('crash', build), readable, rules);
    add(pairs, `${cause}\n${key}`);
    add(pairsByStack, `${causeByStack}\n${key}`);
    add(ofCase, key);
    add(ofCause, cause);
  }
  const together = pairsIn(pairs.values());
  const inCases = pairsIn(ofCase.values());
  const precision = together / inCases;
  const recall = together / pairsIn(ofCause.values());
  const byStack = pairsIn(pairsByStack.values()) / inCases;
  const share = (value: number) => value.toFixed(3);
  return {
    precision,
    recall,
    words: `${reports.length} reports of ${ofCause.size} causes in ${ofCase.size} cases, precision ${share(precision)}${byStack > precision ? ` (${share(byStack)} when causes that differ by nothing but the message count as one)` : ''}, recall ${share(recall)}`,
  };
}

function add<Key>(counts: Map<Key, number>, key: Key): void {
  counts.set(key, (counts.get(key) ?? 0) + 1);
}

const pairsIn = (counts: Iterable<number>): number => [...counts].reduce((sum, count) => sum + (count * (count - 1)) / 2, 0);

const earlier = algorithms.filter((one) => one !== currentAlgorithm);

/** All parts as one, and in words each by itself, and what earlier algorithms made of the same reports. */
function measured(parts: Readonly<Record<string, readonly Labelled[]>>): Agreement {
  const all = Object.values(parts).flat();
  const words = Object.entries(parts).map(([name, reports]) => `${name}: ${agreement(reports).words}`);
  const before = earlier.map((algorithm) => `algorithm ${algorithm}: ${agreement(all, algorithm).words}`);
  return { ...agreement(all), words: [...words, ...before].join('; ') };
}

const tuned = async (folder: string): Promise<Agreement> =>
  measured({ 'builds of the demo': await ofDemo(folder), 'recorded programs': await ofPrograms(tunedPrograms) });
const unseen = async (): Promise<Agreement> =>
  measured({ 'recorded programs that nothing was tuned with': await ofPrograms(unseenPrograms) });

const figure =
  (name: string, of: 'precision' | 'recall', measure: (folder: string) => Promise<Agreement>, aim: number): Bench =>
  async (folder): Promise<Figure> => {
    const found = await measure(folder);
    return { name, value: 100 * found[of], unit: '% of pairs', yardstick: `the aim of ${aim}`, ratio: found[of] / aim, note: found.words };
  };

export const groupingPrecision = figure('grouping.precision', 'precision', tuned, 0.99);
export const groupingRecall = figure('grouping.recall', 'recall', tuned, 0.95);
export const groupingUnseenPrecision = figure('grouping.unseen_precision', 'precision', unseen, 0.99);
export const groupingUnseenRecall = figure('grouping.unseen_recall', 'recall', unseen, 0.95);
