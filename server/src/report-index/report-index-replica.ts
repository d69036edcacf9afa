import { setTimeout as pause } from 'node:timers/promises';
import { ReportIndex } from '@rough-ember/core/report-index/report-index';
import { currentPosition, type Position, sequenceChanges } from '@rough-ember/store/change-log';
import type { Database } from '@rough-ember/store/database';
import {
  listChangedReports,
  type ReportRun,
  readReportRun,
  readReports,
  readReportsAfter,
  readTerms,
  runOf,
  sumOfReport,
  sumReportRuns,
} from '@rough-ember/store/report-feed';

import { Patience } from '../within-patience.ts';

const atOnce = 20_000;

/** The report index of an app, fed from the store: all of it once, and from then on what has changed. */
export class ReportIndexReplica {
  index = new ReportIndex();
  private position: Position | null = null;
  private readonly patience = new Patience();
  private refreshing: Promise<void> | null = null;

  constructor(
    private readonly database: Database,
    private readonly appId: number,
  ) {}

  /** It has been read in; from then on it is true of some moment. */
  get isRead(): boolean {
    return this.position !== null;
  }

  /** Takes in what has changed up to now. Calls that come while one is under way wait for the next. */
  async refresh(): Promise<void> {
    // A refresh that has begun may have looked before the caller's own change.
    if (this.refreshing) await this.refreshing.catch(() => {});
    this.refreshing ??= this.takeIn().finally(() => {
      this.refreshing = null;
    });
    return this.refreshing;
  }

  private async takeIn(): Promise<void> {
    if (this.position === null) await this.readAnew();
    else await this.patience.within(() => sequenceChanges(this.database));
    for (let isAll = false; !isAll; ) {
      const changes = await listChangedReports(this.database, this.appId, this.position as Position);
      if (changes === null) {
        await this.readAnew();
        continue;
      }
      const reports = await readReports(this.database, this.appId, changes.rows);
      await this.put(this.index, reports);
      const there = new Set(reports.map(({ id }) => id));
      for (const row of changes.rows) if (!there.has(row)) this.index.remove(row);
      this.position = changes.position;
      isAll = changes.isAll;
    }
  }

  private async readAnew(): Promise<void> {
    const position = await currentPosition(this.database);
    // Whoever asks meanwhile sees what was there before, and not a part of what is coming.
    const index = new ReportIndex();
    await this.readAll(index);
    this.index = index;
    this.position = position;
  }

  /**
   * Compares what is here with what the database has, run by run, and reads a run again that is not as it should be. What has just
   * changed differs for a moment: a run counts as wrong when it stays so while the database's own stays the same. Gives how many
   * reports had to be put right.
   */
  async mend(pauseMs: number): Promise<number> {
    const before = await this.differingRuns();
    if (before.length === 0) return 0;
    await pause(pauseMs);
    const sums = new Map(before.map((run) => [run.from, run.sum]));
    let mended = 0;
    for (const { from, sum } of await this.differingRuns()) if (sums.get(from) === sum) mended += await this.readRunAgain(from);
    return mended;
  }

  private async differingRuns(): Promise<ReportRun[]> {
    const runs = await sumReportRuns(this.database, this.appId);
    await this.refresh();
    const here = new Map<number, { reports: number; sum: number }>();
    for (const report of this.index.all()) {
      const run = here.get(runOf(report.id)) ?? { reports: 0, sum: 0 };
      here.set(runOf(report.id), { reports: run.reports + 1, sum: run.sum + sumOfReport(report) });
    }
    const known = new Map(runs.map((run) => [run.from, run]));
    // A run that the database has not is one of reports that are gone.
    for (const from of here.keys()) if (!known.has(from)) known.set(from, { from, reports: 0, sum: 0 });
    return [...known.values()].filter(({ from, reports, sum }) => here.get(from)?.reports !== reports || here.get(from)?.sum !== sum);
  }

  private async readRunAgain(from: number): Promise<number> {
    const there = await readReportRun(this.database, this.appId, from);
    const ids = new Set(there.map(({ id }) => id));
    const known = new Map([...this.index.all()].filter(({ id }) => runOf(id) === from).map((report) => [report.id, sumOfReport(report)]));
    const wrong = there.filter((report) => known.get(report.id) !== sumOfReport(report));
    const gone = [...known.keys()].filter((id) => !ids.has(id));
    await this.put(this.index, there);
    for (const id of gone) this.index.remove(id);
    return wrong.length + gone.length;
  }

  private async readAll(index: ReportIndex): Promise<void> {
    for (let afterId: number | null = 0; afterId !== null; ) {
      const terms: Awaited<ReturnType<typeof readTerms>> = await readTerms(this.database, this.appId, { afterId, limit: atOnce });
      for (const term of terms) index.addTerm(term.id, term);
      afterId = terms.length === atOnce ? (terms.at(-1)?.id as number) : null;
    }
    for (let afterId = 0; ; ) {
      const reports = await readReportsAfter(this.database, this.appId, afterId, atOnce);
      await this.put(index, reports);
      if (reports.length < atOnce) return;
      afterId = reports.at(-1)?.id as number;
    }
  }

  private async put(index: ReportIndex, reports: Awaited<ReturnType<typeof readReports>>): Promise<void> {
    const unknown = new Set<number>();
    for (const report of reports) for (const term of report.terms) if (!index.knowsTerm(term)) unknown.add(term);
    const ids = [...unknown];
    for (let at = 0; at < ids.length; at += 1_000)
      for (const term of await readTerms(this.database, this.appId, { ids: ids.slice(at, at + 1_000) })) index.addTerm(term.id, term);
    for (const report of reports) index.put(report);
  }
}
