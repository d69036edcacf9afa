import type { ReadableReport } from '@rough-ember/core/symbolicate/readable-report';
import type { SymbolFileKind } from '@rough-ember/core/symbols/families';

/** What the page asks of the worker. */
export type BenchRequest =
  | { readonly type: 'add'; readonly id: number; readonly file: File }
  | { readonly type: 'remove'; readonly id: number }
  /** `ours` are the packages of the app's own code. */
  | { readonly type: 'crash'; readonly bytes: Uint8Array; readonly ours: readonly string[] };

/** A part of a symbol file, as the bench lists it. */
export interface BenchPart {
  readonly kind: SymbolFileKind;
  readonly name: string | null;
  readonly symbolId: string | null;
}

/** One report that the crash text holds, symbolicated. */
export interface BenchReport {
  readonly readable: ReadableReport;
  readonly raw: readonly { readonly title: string; readonly frames: readonly string[] }[];
  /**
   * What makes it a case, first of the kind it looks like, then of the others, which a text alone does not tell; the only
   * thing that is ever sent, and only when a person asks which case it is.
   */
  readonly groupingKeys: readonly string[];
  readonly provisional: boolean;
}

/** What the worker tells the page. */
export type BenchAnswer =
  | { readonly type: 'progress'; readonly id: number; readonly share: number }
  | { readonly type: 'indexed'; readonly id: number; readonly parts: readonly BenchPart[] }
  | { readonly type: 'refused'; readonly id: number; readonly reason: string }
  | { readonly type: 'result'; readonly reports: readonly BenchReport[] }
  | { readonly type: 'unreadable'; readonly reason: string };
