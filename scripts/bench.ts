import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { clientStart } from './bench/clients.ts';
import { crashFree } from './bench/crash-free.ts';
import { crashFreeAccuracy } from './bench/crash-free-accuracy.ts';
import { desk } from './bench/desk.ts';
import type { Bench } from './bench/figure.ts';
import { groupingPrecision, groupingRecall, groupingUnseenPrecision, groupingUnseenRecall } from './bench/grouping.ts';
import { intakeReports, intakeSessions, visible } from './bench/intake.ts';
import { lateSymbols } from './bench/late-symbols.ts';
import { mappingIndex, retrace } from './bench/mapping.ts';
import { ownQuestions } from './bench/questions.ts';
import { dwarfCold, dwarfWarm, sourceMap } from './bench/symbols.ts';
import { tellDelay } from './bench/tell.ts';
import {
  verdictAlerts,
  verdictCells,
  verdictCoverage,
  verdictDetects,
  verdictEqualHourly,
  verdictEqualOnce,
  verdictWorsening,
} from './bench/verdicts.ts';

const benches: Readonly<Record<string, Bench>> = {
  'mapping.index': mappingIndex,
  'retrace.frames_per_second': retrace,
  'dwarf.cold': dwarfCold,
  'dwarf.warm': dwarfWarm,
  sourcemap: sourceMap,
  'intake.reports': intakeReports,
  'visible.p95': visible,
  'late-symbols': lateSymbols,
  'desk.p95': desk,
  'intake.sessions': intakeSessions,
  'crashfree.p95': crashFree,
  'ask.p95': ownQuestions,
  'crashfree.accuracy': crashFreeAccuracy,
  'clients.start': clientStart,
  'grouping.precision': groupingPrecision,
  'grouping.recall': groupingRecall,
  'grouping.unseen_precision': groupingUnseenPrecision,
  'grouping.unseen_recall': groupingUnseenRecall,
  'verdict.coverage': verdictCoverage,
  'verdict.equal_once': verdictEqualOnce,
  'verdict.equal_hourly': verdictEqualHourly,
  'verdict.detects': verdictDetects,
  'verdict.cells': verdictCells,
  'verdict.worsening': verdictWorsening,
  'verdict.alerts': verdictAlerts,
  'tell.delay': tellDelay,
};

/** `npm run bench [-- --json] [name…]`: figures as ratios against a yardstick measured in the same run. */
export async function main(args: readonly string[]): Promise<number> {
  const json = args.includes('--json');
  const names = args.filter((one) => one !== '--json');
  const unknown = names.find((name) => !(name in benches));
  if (unknown !== undefined) {
    console.error(`There is no figure "${unknown}"; there are ${Object.keys(benches).join(', ')}.`);
    return 2;
  }
  for (const [name, bench] of Object.entries(benches)) {
    if (names.length > 0 && !names.includes(name)) continue;
    const folder = mkdtempSync(join(tmpdir(), 'ember-bench-'));
    try {
      const { note, ...figure } = await bench(folder);
      if (json) console.log(JSON.stringify(figure));
      else console.log(`${name}: ${wordValue(figure.value)} ${figure.unit}, ${figure.ratio.toFixed(2)} × ${figure.yardstick}\n  ${note}`);
    } finally {
      rmSync(folder, { recursive: true, force: true });
    }
  }
  return 0;
}

const wordValue = (value: number): string => value.toFixed(value < 100 ? 1 : 0);
