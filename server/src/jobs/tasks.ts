import type { Grouping } from '@rough-ember/core/grouping/group-report';
import type { Result } from '@rough-ember/core/result';
import type { ReadableReport } from '@rough-ember/core/symbolicate/readable-report';
import type { MappingProblem } from '@rough-ember/core/symbols/mapping/index-builder';
import type { MappingSummary } from '@rough-ember/core/symbols/mapping/index-layout';
import type { parseBatch, parseOtlp } from '../intake/parse-batch.ts';
import type { previewScrub } from '../intake/preview-scrub.ts';
import type { readFileTask } from '../intake/read-crash-file.ts';

/** Paths of a symbol file that a report may need. */
export interface MappingPaths {
  readonly originalPath: string;
  readonly indexPath: string;
}

export interface ReportTask {
  /** The stored report, JSON. */
  readonly body: string;
  readonly ourPackages: readonly string[];
  /** Mappings at hand, by map id; '' is the one of the report's version and build. */
  readonly mappings: ReadonlyMap<string, MappingPaths>;
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
  indexMapping(paths: MappingPaths): Promise<Result<MappingSummary, MappingProblem>>;
  /** One outcome for each report, in order; a report that cannot be processed does not cost the others. */
  processReports(reports: readonly ReportTask[]): Promise<Result<ProcessedTask, 'failed'>[]>;
}
