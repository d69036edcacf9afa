import { z } from 'zod';
import type { FoundReport } from '../report/formats/found-report.ts';
import type { Frame } from '../report/frames.ts';
import { writtenLine } from '../report/written-line.ts';
import { symbolFileKinds } from '../symbols/families.ts';
import { frameStatuses, type ReadableFrame, type ReadableReport } from './readable-report.ts';

/** Raised when what a field means changes, or one goes; fields may be added without. */
export const symbolicatedFormatVersion = 2;

const place = z.int().min(1).nullable();
const frame = z.object({
  function: z.string().nullable().describe('As its developer wrote it; null where nothing is known of it.'),
  label: z.string().describe('For people: the function, or what stands in its place, such as "libsong.so 0x1234".'),
  image: z.string().optional().describe('Library, executable or assembly the code lies in, where the runtime tells it.'),
  file: z.string().nullable(),
  line: place.describe('From 1; null when not known.'),
  column: z.int().min(0).nullable().describe('From 1; null when not known.'),
  inlined: z.boolean().describe('This call was inlined into the frame that follows.'),
  ours: z.boolean().describe("Code of the app's own, by --ours or by what is known of libraries."),
  status: z.enum(Object.keys(frameStatuses) as [keyof typeof frameStatuses, ...(keyof typeof frameStatuses)[]]).describe(
    Object.entries(frameStatuses)
      .map(([status, words]) => `${status}: ${words}`)
      .join('; '),
  ),
  alternatives: z.array(z.string()).optional().describe('Other functions that the symbol file leaves possible.'),
  raw: z
    .string()
    .describe(
      'The line as the system wrote it, whole; of formats without lines what such a line would be. The same for all frames that came from it.',
    ),
});
const framesLeftOut = z
  .object({ after: z.int(), count: z.int() })
  .optional()
  .describe('Frames that were cut out: how many raw ones, behind which.');
const report = z.object({
  exceptions: z
    .array(
      z.object({
        type: z.string(),
        message: z.string().nullable(),
        relation: z.enum(['thrown', 'cause', 'suppressed']),
        parent: z.int().nullable().describe('Position of the exception that this one hangs on.'),
        frames: z.array(frame).describe('Innermost call first, inlined calls expanded.'),
        framesInCommon: z.int().describe('How many of the last frames the parent has too.'),
        framesLeftOut,
      }),
    )
    .describe('The one thrown first, then its causes in order, then what was suppressed.'),
  threads: z.array(
    z.object({
      name: z.string(),
      crashed: z.boolean(),
      frames: z.array(frame).describe('Of the crashed thread those of the exception, where the system wrote them only there.'),
      framesLeftOut,
    }),
  ),
  missing: z
    .array(z.object({ kind: z.enum(symbolFileKinds), symbolId: z.string().nullable(), name: z.string().nullable() }))
    .describe('Symbol files that frames ask for and that were not given.'),
});
/** What `ember symbolicate --json` prints. */
export const symbolicatedSchema = report.extend({
  formatVersion: z.literal(symbolicatedFormatVersion),
  further: z.array(report).optional().describe('The other crashes of the file, in its order.'),
});
export type SymbolicatedJson = z.infer<typeof symbolicatedSchema>;
type ReportJson = z.infer<typeof report>;

/** Puts symbolicated reports, the first and the others of its file, into the documented form. */
export function symbolicatedJson(reports: readonly { readonly found: FoundReport; readonly readable: ReadableReport }[]): SymbolicatedJson {
  const [first, ...further] = reports.map(reportJson);
  const empty: ReportJson = { exceptions: [], threads: [], missing: [] };
  return { formatVersion: symbolicatedFormatVersion, ...(first ?? empty), ...(further.length > 0 && { further }) };
}

function reportJson({ found, readable }: { readonly found: FoundReport; readonly readable: ReadableReport }): ReportJson {
  const exceptions = readable.exceptions.map(({ frames, ...one }, at) => ({
    ...one,
    frames: frames.map(frameJson(found.exceptions[at]?.frames ?? [])),
  }));
  const threads = readable.threads.map(({ frames, ...one }, at) => ({
    ...one,
    frames: frames.map(frameJson(found.threads[at]?.frames ?? [])),
  }));
  const [thrown] = exceptions;
  return {
    exceptions,
    threads: threads.map((thread) =>
      thread.crashed && thread.frames.length === 0 && thrown
        ? { ...thread, frames: thrown.frames, framesLeftOut: thrown.framesLeftOut }
        : thread,
    ),
    missing: readable.needs.filter((need) => !need.found).map(({ kind, symbolId, name }) => ({ kind, symbolId, name })),
  };
}

const frameJson =
  (written: readonly Frame[]) =>
  ({ unnamed, function: label, runtime: _runtime, rawIndex, context: _context, raw, alternatives, ...frame }: ReadableFrame) => {
    const from = written[rawIndex];
    return {
      function: unnamed === true ? null : label,
      label,
      ...frame,
      ...(alternatives && { alternatives: [...alternatives] }),
      raw: (from && writtenLine(from)) ?? raw,
    };
  };
