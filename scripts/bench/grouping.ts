import { bareContext, groupReport } from '@rough-ember/core/grouping/group-report';
import { symbolicate } from '@rough-ember/core/symbolicate/symbolicate';
import { labelledReports } from '@rough-ember/demo/labelled/labelled-reports';
import { openBuild } from '@rough-ember/demo/labelled/program-build';
import { larkfieldApps } from '@rough-ember/demo/larkfield';
import type { Bench, Figure } from './figure.ts';
import { optimisedBuilds } from './optimised-builds.ts';

const wanted = { causes: 180, reports: 4_000 };

interface Agreement {
  readonly precision: number;
  readonly recall: number;
  readonly note: string;
}

/** Of all pairs of reports in one case, the share with one cause; and of all pairs with one cause, the share in one case. */
async function measure(folder: string): Promise<Agreement> {
  const ofReleases = await Promise.all(larkfieldApps.flatMap((app) => app.releases.map((release) => openBuild(app, release))));
  const builds = [...ofReleases.flat(), ...(await optimisedBuilds(folder))];
  const reports = labelledReports(builds, wanted);
  const pairs = new Map<string, number>();
  const pairsByStack = new Map<string, number>();
  const ofCase = new Map<string, number>();
  const ofCause = new Map<number, number>();
  for (const { cause, causeByStack, build, exceptions } of reports) {
    const readable = symbolicate({ exceptions: [...exceptions], threads: [] }, build.source, { ours: build.ours });
    const { key } = groupReport(bareContext('crash', `${build.version} ${build.build}`), readable);
    add(pairs, `${cause}\n${key}`);
    add(pairsByStack, `${causeByStack}\n${key}`);
    add(ofCase, key);
    add(ofCause, cause);
  }
  const together = pairsIn(pairs.values());
  const byStack = pairsIn(pairsByStack.values()) / pairsIn(ofCase.values());
  return {
    precision: together / pairsIn(ofCase.values()),
    recall: together / pairsIn(ofCause.values()),
    note: `${reports.length} reports of ${ofCause.size} causes in ${ofCase.size} cases, from ${builds.length} builds of ${new Set(builds.map((build) => build.runtime)).size} runtimes; precision ${byStack.toFixed(3)} when causes that differ by nothing but the message count as one, as stacks cannot tell them apart`,
  };
}

function add<Key>(counts: Map<Key, number>, key: Key): void {
  counts.set(key, (counts.get(key) ?? 0) + 1);
}

const pairsIn = (counts: Iterable<number>): number => [...counts].reduce((sum, count) => sum + (count * (count - 1)) / 2, 0);

const figure =
  (name: string, of: (agreement: Agreement) => number, aim: number): Bench =>
  async (folder): Promise<Figure> => {
    const agreement = await measure(folder);
    const value = of(agreement);
    return { name, value: 100 * value, unit: '% of pairs', yardstick: `the aim of ${aim}`, ratio: value / aim, note: agreement.note };
  };

export const groupingPrecision = figure('grouping.precision', (agreement) => agreement.precision, 0.98);
export const groupingRecall = figure('grouping.recall', (agreement) => agreement.recall, 0.95);
