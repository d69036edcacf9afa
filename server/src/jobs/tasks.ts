import type { CommonSteps } from '@rough-ember/core/cases/common-steps';
import type { ScrubRules } from '@rough-ember/core/report/scrub';
import type { Term } from '@rough-ember/core/report-index/report-terms';
import type { TiedFile } from '@rough-ember/core/symbolicate/file-set';
import type { Job } from '@rough-ember/store/jobs';
import type { MadeOfReport } from '@rough-ember/store/processing';
import type { passwordProblem } from '../accounts/password-problem.ts';
import type { matchReports } from '../alerts/match-reports.ts';
import type { Taken } from '../intake/receive.ts';
import type { IntakeSender, takeFile } from '../intake/take.ts';
import type { previewScrub } from '../privacy/preview-scrub.ts';
import type { ScrubTrial } from '../privacy/try-scrub.ts';
import type { PathsAnswer, PathsQuery } from '../sequences/look-at-paths.ts';
import type { indexFileOnDisk, SymbolFilePaths } from '../symbols/index-file-on-disk.ts';

/** An index on disk that a report may need, with what ties it to the report's build. */
export interface TiedIndex extends TiedFile {
  readonly paths: SymbolFilePaths;
  readonly part: number;
}

export interface ReportTask {
  /** The stored report, JSON. */
  readonly body: string;
  readonly ourPackages: readonly string[];
  /** Attributes that the app has made filterable. */
  readonly filterable: readonly string[];
  /** Rules of the app, as they are written. */
  readonly groupingRules: string;
  /** Indexes at hand, the newest first. */
  readonly files: readonly TiedIndex[];
}

/** What processing made of a report; what may be large comes as the text that is stored. */
export interface ProcessedTask extends MadeOfReport {
  readonly terms: readonly Term[];
}

/** The parameters behind the database, which each thread has for itself. */
type Rest<Of extends (...all: never[]) => unknown> = Parameters<Of> extends [unknown, ...infer Others] ? Others : never;

/** What worker threads can be asked to do, and what they give back. */
export interface Tasks {
  /** Read, judge and store what was sent: none of it comes back but what became of each item. */
  takeBatch(sender: IntakeSender, body: Uint8Array): Promise<Taken>;
  takeOtlp(sender: IntakeSender, body: Uint8Array, encoding: 'json' | 'protobuf'): Promise<Taken>;
  takeFile(sender: IntakeSender, file: Parameters<typeof takeFile>[2]): Promise<Taken>;
  readonly previewScrub: typeof previewScrub;
  readonly passwordProblem: typeof passwordProblem;
  tryScrub(appId: number, rules: ScrubRules): Promise<ScrubTrial>;
  readonly indexSymbolFile: typeof indexFileOnDisk;
  /**
   * Reads, symbolicates, groups and stores the reports of jobs, which are done then. Gives the problem of each in order, null
   * where there was none; a report that cannot be processed does not cost the others.
   */
  processReports(jobs: readonly Job[], symbolsFolder: string): Promise<(string | null)[]>;
  /** Does a job whose whole work is in the database and in computing; it is finished then. */
  workJob(job: Job): Promise<void>;
  /** Which of some reports each of some scopes holds. */
  matchReports(...about: Rest<typeof matchReports>): ReturnType<typeof matchReports>;
  /** What came before most of the reports, which are given by their rows. */
  commonSteps(rows: readonly number[]): Promise<CommonSteps>;
  /** The ways of sessions through an app, and how far they follow a sequence. */
  lookAtPaths(about: PathsQuery): Promise<PathsAnswer>;
}
