import { ReportIndex } from '@rough-ember/core/report-index/report-index';
import type { Database } from '@rough-ember/store/database';
import { type FeedMark, feedMark, listChangesSince, readReports, readReportsAfter, readTerms } from '@rough-ember/store/report-feed';

const atOnce = 20_000;

/** The report index of an app, fed from the store: all of it once, and from then on what has changed. */
export class FedIndex {
  readonly index = new ReportIndex();
  private mark: FeedMark | null = null;
  /** Changes that were taken in, by report, as far back as they are told again. */
  private seen: ReadonlyMap<number, string> = new Map();
  private lastTerm = 0;
  private refreshing: Promise<void> | null = null;

  constructor(
    private readonly database: Database,
    private readonly appId: number,
  ) {}

  /** It has been read in; from then on it is true of some moment. */
  get isRead(): boolean {
    return this.mark !== null;
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
    if (this.mark === null) {
      const mark = await feedMark(this.database);
      await this.readAll();
      this.mark = mark;
    }
    const { changed, removed, mark } = await listChangesSince(this.database, this.appId, this.mark);
    const news = [...changed].filter(([id, at]) => this.seen.get(id) !== at).map(([id]) => id);
    await this.put(await readReports(this.database, this.appId, news));
    for (const id of removed) this.index.remove(id);
    this.seen = changed;
    this.mark = mark;
  }

  private async readAll(): Promise<void> {
    for (let terms = await this.moreTerms(); terms === atOnce; ) terms = await this.moreTerms();
    for (let afterId = 0; ; ) {
      const reports = await readReportsAfter(this.database, this.appId, afterId, atOnce);
      await this.put(reports);
      if (reports.length < atOnce) return;
      afterId = reports.at(-1)?.id as number;
    }
  }

  private async moreTerms(): Promise<number> {
    const terms = await readTerms(this.database, this.appId, { afterId: this.lastTerm, limit: atOnce });
    for (const term of terms) this.addTerm(term);
    this.lastTerm = terms.at(-1)?.id ?? this.lastTerm;
    return terms.length;
  }

  private async put(reports: Awaited<ReturnType<typeof readReports>>): Promise<void> {
    const unknown = new Set<number>();
    for (const report of reports) for (const term of report.terms) if (!this.index.knowsTerm(term)) unknown.add(term);
    const ids = [...unknown];
    for (let at = 0; at < ids.length; at += 1_000)
      for (const term of await readTerms(this.database, this.appId, { ids: ids.slice(at, at + 1_000) })) this.addTerm(term);
    for (const report of reports) this.index.put(report);
  }

  private addTerm(term: Awaited<ReturnType<typeof readTerms>>[number]): void {
    this.index.addTerm(term.id, term);
  }
}
