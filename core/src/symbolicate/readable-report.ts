import type { Runtime } from '../report/frames.ts';
import type { FramesLeftOut, ReportedException } from '../report/report.ts';
import type { SymbolFileKind } from '../symbols/families.ts';

/** What became of a raw frame: a failure is said here, never guessed over. */
export const frameStatuses = {
  resolved: 'restored from a symbol file',
  ambiguous: 'restored; the symbol file leaves several methods possible',
  'not-covered': 'the symbol file is there but does not cover this frame completely',
  'no-symbols': 'the symbol file of this build is missing',
  'as-written': 'needs no symbol file',
} as const;
export type FrameStatus = keyof typeof frameStatuses;

/** One frame as its developer wrote it. A raw frame with inlined calls becomes several, innermost first. */
export interface ReadableFrame {
  readonly runtime: Runtime;
  /** Qualified `Class.method` in managed runtimes; for machine code without symbols its image and address. */
  readonly function: string;
  /** Nothing names the function: what stands in its place is where it is, or that nobody knows. */
  readonly unnamed?: boolean;
  /** Name of the library, executable or assembly the code lies in, where the runtime tells it. */
  readonly image?: string;
  readonly file: string | null;
  /** From 1; null when not known. */
  readonly line: number | null;
  /** From 1; null when not known. */
  readonly column: number | null;
  /** This call was inlined into the frame that follows it. */
  readonly inlined: boolean;
  readonly ours: boolean;
  /** Reached through an await or another asynchronous step: what called it had ended by then. */
  readonly asynchronous?: boolean;
  readonly status: FrameStatus;
  /** The frame as it was reported; the same text for all frames that came from it. */
  readonly raw: string;
  /** Position of that raw frame in its stack, from 0. */
  readonly rawIndex: number;
  /** Other functions that the symbol file leaves possible. */
  readonly alternatives?: readonly string[];
  /** Lines of the source around the frame's own, where the symbol file holds them. */
  readonly context?: { readonly firstLine: number; readonly lines: readonly string[] };
}

export interface ReadableException {
  readonly type: string;
  readonly message: string | null;
  readonly relation: ReportedException['relation'];
  readonly parent: number | null;
  readonly frames: readonly ReadableFrame[];
  /** How many of the last frames the parent has too. */
  readonly framesInCommon: number;
  /** Of a stack that was cut in its middle; counts raw frames. */
  readonly framesLeftOut?: FramesLeftOut | undefined;
}

export interface ReadableThread {
  readonly name: string;
  readonly crashed: boolean;
  readonly frames: readonly ReadableFrame[];
  readonly framesLeftOut?: FramesLeftOut | undefined;
}

/** A symbol file that frames ask for, named by what ties it to the build. */
export interface SymbolNeed {
  readonly kind: SymbolFileKind;
  /** Map id, build id, UUID, debug id, PDB id or module version id that the frames print; null when only version and build tie the file. */
  readonly symbolId: string | null;
  /** Name of the image, script or assembly; null for a mapping, and where none was printed. */
  readonly name: string | null;
}

/** A symbol file that a report asked for, and how it served. */
export interface FoundNeed extends SymbolNeed {
  readonly found: boolean;
  /** Of the distinct frames that asked for a mapping or source map, how many it restored, and how many it knows nothing of. */
  readonly frames?: FrameCoverage;
}

export interface FrameCoverage {
  readonly covered: number;
  readonly uncovered: number;
}

export interface ReadableReport {
  readonly exceptions: readonly ReadableException[];
  readonly threads: readonly ReadableThread[];
  /** Every symbol file the report asked for, found or not. */
  readonly needs: readonly FoundNeed[];
}
