import type { Grouping } from '@rough-ember/core/grouping/group-report';
import type { Result } from '@rough-ember/core/result';
import type { TiedFile } from '@rough-ember/core/symbolicate/file-set';
import type { ReadableReport } from '@rough-ember/core/symbolicate/readable-report';
import type { parseBatch, parseOtlp } from '../intake/parse-batch.ts';
import type { previewScrub } from '../intake/preview-scrub.ts';
import type { readFileTask } from '../intake/read-crash-file.ts';
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
  /** Indexes at hand, the newest first. */
  readonly files: readonly TiedIndex[];
}

export interface ProcessedTask {
  readonly readable: ReadableReport;
  readonly grouping: Grouping;
}

/** What worker threads can be asked to do, and what they give back. */
export interface Tasks {
  readonly parseBatch: typeof parseBatch;
  readonly parseOtlp: typeof parseOtlp;
  readonly previewScrub: typeof previewScrub;
  readonly readCrashFile: typeof readFileTask;
  readonly indexSymbolFile: typeof indexFileOnDisk;
  /** One outcome for each report, in order; a report that cannot be processed does not cost the others. */
  processReports(reports: readonly ReportTask[]): Promise<Result<ProcessedTask, 'failed'>[]>;
}
