import { z } from 'zod';
import { attachmentItemSchema } from './attachment.ts';
import { reportSchema } from './report.ts';
import { sessionItemSchema } from './session.ts';

/** One line of a batch: an item with its type. */
export const itemSchema = z.discriminatedUnion('type', [
  reportSchema.extend({ type: z.literal('report') }),
  sessionItemSchema.extend({ type: z.literal('session') }),
  attachmentItemSchema.safeExtend({ type: z.literal('attachment') }),
]);
export type Item = z.infer<typeof itemSchema>;
