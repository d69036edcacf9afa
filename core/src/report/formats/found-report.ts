import type { ReportContext } from '../context.ts';
import type { Attributes } from '../limits.ts';
import type { LoadedImage, ReportedException, ReportedThread, ReportSection } from '../report.ts';
import type { ReportKind } from '../report-kinds.ts';
import type { TrailEvent } from '../trail.ts';

/** What a reader finds in a file: one report, with as much of its circumstances as the file tells. */
export interface FoundReport {
  /** Name of the form that the file had. */
  readonly format: string;
  readonly kind: ReportKind;
  /** The id that the file itself carries, so that handing it over twice is harmless. */
  readonly id: string | null;
  /** ISO time when the file tells one. */
  readonly occurredAt: string | null;
  /** Process, package or bundle name, when the file tells it. */
  readonly process: string | null;
  readonly version: string | null;
  readonly build: string | null;
  readonly os: ReportContext['os'];
  readonly device: ReportContext['device'];
  readonly exceptions: ReportedException[];
  readonly threads: ReportedThread[];
  readonly images: LoadedImage[];
  readonly attributes: Attributes;
  /** Parts that were not understood, or are only to be read, as they were written. */
  readonly sections: ReportSection[];
  /** What a client says of its app, where a file is that of a client. */
  readonly buildType?: string;
  readonly installationId?: string;
  readonly personId?: string;
  readonly sessionId?: string;
  readonly flags?: Record<string, string>;
  readonly trail?: TrailEvent[];
  /** What was left out, in words: a limit that was reached, a part that is damaged. */
  readonly notes: readonly string[];
}

/** A found report of which only some things are known. */
export const foundReport = (known: Pick<FoundReport, 'format' | 'kind'> & Partial<FoundReport>): FoundReport => ({
  id: null,
  occurredAt: null,
  process: null,
  version: null,
  build: null,
  os: null,
  device: null,
  exceptions: [],
  threads: [],
  images: [],
  attributes: {},
  sections: [],
  notes: [],
  ...known,
});

/** A device of which only some things are known. */
export const foundDevice = (
  known: { model: string } & Partial<NonNullable<ReportContext['device']>>,
): NonNullable<ReportContext['device']> => ({
  manufacturer: null,
  memoryClass: null,
  memory: null,
  disk: null,
  batteryPercent: null,
  charging: null,
  orientation: null,
  rooted: null,
  emulator: null,
  ...known,
});

/** Of one file so many reports are read. */
export const reportsPerFile = 200;

/** What a reader must know that no file tells. */
export interface CrashFileContext {
  /** ISO time; supplies the year that a log line leaves out. */
  readonly receivedAt: string;
}
