import { z } from 'zod';
import { contextSchema } from './context.ts';
import { frameSchema } from './frames.ts';
import { attributesSchema, deviceTime, flagsSchema, hexadecimal, limitedRecord, name, optional, reportLimits, text } from './limits.ts';
import { reportKinds } from './report-kinds.ts';
import { trailEventSchema } from './trail.ts';

const frames = z.array(frameSchema).max(reportLimits.framesPerStack);
const framesLeftOut = z
  .strictObject({ after: z.int().min(0), count: z.int().min(1) })
  .optional()
  .describe('A stack that was too long is cut in its middle: how many frames went, and behind how many of those that stayed.');
export type FramesLeftOut = NonNullable<z.infer<typeof framesLeftOut>>;

export const exceptionSchema = z
  .strictObject({
    type: name.min(1),
    message: optional(text(reportLimits.messageCharacters)),
    relation: z.enum(['thrown', 'cause', 'suppressed']).default('thrown'),
    parent: optional(
      z
        .int()
        .min(0)
        .max(reportLimits.exceptions - 1),
    ).describe('Index of the exception this one caused, or was suppressed in; null for the thrown one.'),
    frames: frames.default([]).describe('Innermost first, with the frames it shares with its parent.'),
    framesInCommon: z.int().min(0).default(0).describe('How many of the last frames the parent has too.'),
    framesLeftOut,
    stack: optional(text(65_536)).describe(
      'The stack as the runtime printed it, instead of frames: it is read on arrival, causes in it too.',
    ),
  })
  .describe('One exception, or signal, of a chain; causes follow what they caused, suppressed ones come last. Runtimes may mix.');
export type ReportedException = z.infer<typeof exceptionSchema>;

export const threadSchema = z
  .strictObject({
    name,
    id: optional(z.int()).describe('As the system numbers it.'),
    crashed: z.boolean().default(false),
    state: optional(text(100)).describe('Such as "Blocked" or "Runnable", in the words of the runtime.'),
    waitsFor: optional(z.strictObject({ what: text(300), threadId: optional(z.int()).describe('Who holds it.') })),
    frames: frames.default([]).describe('Empty for the crashed thread when its stack is that of the thrown exception.'),
    framesLeftOut,
    registers: limitedRecord(text(20), hexadecimal, reportLimits.registers).default({}),
  })
  .describe('A thread, or another stack with a name, such as the components of a user interface.');
export type ReportedThread = z.infer<typeof threadSchema>;

export const imageSchema = z
  .strictObject({
    name: name.describe('Path or name.'),
    symbolId: optional(z.string().max(200)).describe('Build id or UUID, lower-case hexadecimal digits.'),
    architecture: optional(text(50)),
    loadAddress: optional(hexadecimal),
    sizeBytes: optional(z.int().min(0)),
  })
  .describe('An executable or library that was loaded.');
export type LoadedImage = z.infer<typeof imageSchema>;

export const sectionSchema = z
  .strictObject({ name: text(200), text: text(reportLimits.sectionCharacters) })
  .describe('A part of a crash file that is kept as it was written.');
export type ReportSection = z.infer<typeof sectionSchema>;

/** One thing that went wrong, as a device tells it: the canonical form that every reader and client produces. */
export const reportSchema = contextSchema.extend({
  id: z.uuid().describe('Made on the device; the same id sent twice is stored once.'),
  kind: z.enum(reportKinds),
  occurredAt: deviceTime,
  sessionId: optional(z.uuid()).describe('The session it happened in; that session counts as crashed, hung or killed.'),
  exceptions: z
    .array(exceptionSchema)
    .max(reportLimits.exceptions)
    .default([])
    .superRefine((list, context) =>
      list.forEach((one, index) => {
        if (one.parent !== null && one.parent >= index)
          context.addIssue({ code: 'custom', path: [index, 'parent'], message: 'an exception must come after its parent' });
      }),
    ),
  threads: z.array(threadSchema).max(reportLimits.threads).default([]),
  images: z.array(imageSchema).max(reportLimits.images).default([]),
  samplePercent: z
    .number()
    .min(0.1)
    .max(100)
    .optional()
    .describe('Share of reports of its kind that the app itself sends, in percent: counted, it stands for those that were left out.'),
  trail: z.array(trailEventSchema).max(reportLimits.trailEvents).default([]).describe('Oldest first.'),
  flags: flagsSchema.default({}),
  attributes: attributesSchema.default({}),
  sections: z.array(sectionSchema).max(reportLimits.sections).default([]),
  remarks: z
    .array(text(reportLimits.remarkCharacters))
    .max(reportLimits.remarks)
    .default([])
    .describe('What was changed so that the report could be kept, by the client before it was sent or by the server.'),
});
export type Report = z.infer<typeof reportSchema>;
/** A report as a client may write it, defaults left out. */
export type ReportInput = z.input<typeof reportSchema>;
