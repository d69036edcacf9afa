import { z } from 'zod';
import { printable } from './printable.ts';
import { reportKinds } from './report-kinds.ts';

/** Ceilings of one report. Whatever is longer is refused (protocol) or cut with a note (crash texts). */
export const reportLimits = {
  exceptions: 64,
  threads: 500,
  framesPerStack: 2_000,
  frames: 20_000,
  messageCharacters: 16_384,
  nameCharacters: 1_024,
  attributes: 100,
} as const;

const text = (characters: number) => z.string().max(characters).overwrite(printable);
const name = text(reportLimits.nameCharacters);

/** One frame of a Java virtual machine, as the program printed it: obfuscated names stay obfuscated. */
export const jvmFrameSchema = z.object({
  runtime: z.literal('jvm'),
  class: name.describe('Qualified class name, nested classes after "$".'),
  method: name,
  file: name.nullable().default(null).describe('The source file attribute; null when it was "Unknown Source".'),
  line: z.int().min(0).max(0x7fff_ffff).nullable().default(null).describe('From 1; null when not known.'),
  native: z.boolean().default(false),
  module: name.nullable().default(null).describe('Class loader and module as printed, such as "java.base".'),
});
export type JvmFrame = z.infer<typeof jvmFrameSchema>;

export const frameSchema = z.discriminatedUnion('runtime', [jvmFrameSchema]);
export type Frame = z.infer<typeof frameSchema>;

const frames = z.array(frameSchema).max(reportLimits.framesPerStack);

export const exceptionSchema = z
  .object({
    type: name.min(1),
    message: text(reportLimits.messageCharacters).nullable().default(null),
    relation: z.enum(['thrown', 'cause', 'suppressed']).default('thrown'),
    parent: z
      .int()
      .min(0)
      .max(reportLimits.exceptions - 1)
      .nullable()
      .default(null)
      .describe('Index of the exception this one caused, or was suppressed in; null for the thrown one.'),
    frames: frames.default([]).describe('Innermost first, with the frames it shares with its parent.'),
    framesInCommon: z.int().min(0).default(0).describe('How many of the last frames the parent has too.'),
  })
  .describe('One exception of a chain; causes follow what they caused, suppressed ones come last.');
export type ReportedException = z.infer<typeof exceptionSchema>;

export const threadSchema = z.object({
  name,
  crashed: z.boolean().default(false),
  frames: frames.default([]).describe('Empty for the crashed thread when its stack is that of the thrown exception.'),
});
export type ReportedThread = z.infer<typeof threadSchema>;

const scalar = z.union([text(4_096), z.number(), z.boolean()]);

/** A version name or a build number: one printable line. */
export const buildNameSchema = z
  .string()
  .trim()
  .min(1)
  .max(100)
  .regex(/^\P{C}+$/u, { error: 'holds control characters' });

/** Where and when a report happened; the same fields for every kind and every format. */
export const reportContextSchema = z.object({
  version: buildNameSchema,
  build: buildNameSchema,
  os: z
    .object({ name: z.string().max(50), version: z.string().max(50) })
    .nullable()
    .default(null),
  device: z
    .object({ manufacturer: text(100).nullable().default(null), model: text(100) })
    .nullable()
    .default(null),
  installationId: z.uuid().nullable().default(null),
  personId: text(200).min(1).nullable().default(null),
});
export type ReportContext = z.infer<typeof reportContextSchema>;

/** One thing that went wrong, as a device tells it: the canonical form that every reader and client produces. */
export const reportSchema = reportContextSchema.extend({
  id: z.uuid().describe('Made on the device; the same id sent twice is stored once.'),
  kind: z.enum(reportKinds),
  occurredAt: z.iso.datetime({ offset: true }),
  exceptions: z
    .array(exceptionSchema)
    .max(reportLimits.exceptions)
    .default([])
    .refine((list) => list.every((one, index) => one.parent === null || one.parent < index), {
      error: 'an exception must come after its parent',
    }),
  threads: z.array(threadSchema).max(reportLimits.threads).default([]),
  attributes: z
    .record(text(200), z.union([scalar, z.array(scalar).max(100)]))
    .refine((all) => Object.keys(all).length <= reportLimits.attributes, {
      error: `at most ${reportLimits.attributes} attributes`,
    })
    .default({}),
});
export type Report = z.infer<typeof reportSchema>;
/** A report as a client may write it, defaults left out. */
export type ReportInput = z.input<typeof reportSchema>;
