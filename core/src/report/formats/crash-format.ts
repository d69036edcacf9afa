import type { Result } from '../../result.ts';
import type { CrashFileContext, FoundReport } from './found-report.ts';
import type { JsonText } from './json-reader.ts';

/**
 * A form that a crash file may have. Each stands in a folder of its own, `format.ts` with what is declared here and `read.ts` with its
 * reader; the list of them (`formats.ts`) says in which order they are tried. A reader gives null for a file of another form.
 */
export interface CrashFormat {
  /** As it stands in what is stored and printed. */
  readonly name: string;
  /** How people call it. */
  readonly words: string;
  /** Of binary files. */
  readBytes?(bytes: Uint8Array): FoundReport | null;
  /** Of JSON documents; a failure is of a file that is this form and damaged. */
  readJson?(text: JsonText, context: CrashFileContext): Result<FoundReport[], 'damaged'> | null;
  /** Of lines of text. */
  readLines?(lines: readonly string[], context: CrashFileContext): FoundReport[] | null;
}

/** A form of the stacks of one runtime: of several that understand a text, the one that understands most of it is taken. */
export interface StackFormat extends CrashFormat {
  readStacks(lines: readonly string[]): FoundReport[];
  /** Its stacks stand in the messages of exceptions of other runtimes. */
  readonly isCarried: boolean;
}
