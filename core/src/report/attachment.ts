import { z } from 'zod';
import { text } from './limits.ts';

export const attachmentLimits = { bytes: 2 * 1024 * 1024, perReport: 12 } as const;

/** What may be attached. The type decides how it is shown; nothing that a browser could run is among them. */
export const attachmentKinds = {
  screenshot: ['image/png', 'image/jpeg'],
  'view-hierarchy': ['text/plain', 'application/json'],
  log: ['text/plain'],
} as const;
export type AttachmentKind = keyof typeof attachmentKinds | 'original';

/** A file that belongs to a report; either may arrive first. */
export const attachmentItemSchema = z
  .strictObject({
    id: z.uuid().describe('Made on the device; the same id sent twice is stored once.'),
    reportId: z.uuid(),
    kind: z.enum(Object.keys(attachmentKinds) as [keyof typeof attachmentKinds]),
    name: text(200).min(1),
    mediaType: z.string().max(100),
    data: z
      .base64()
      .max(Math.ceil(attachmentLimits.bytes / 3) * 4, { error: `holds more than ${attachmentLimits.bytes} bytes` })
      .describe(`Base64, at most ${attachmentLimits.bytes} bytes.`),
  })
  .superRefine((item, context) => {
    const allowed: readonly string[] = attachmentKinds[item.kind];
    if (!allowed.includes(item.mediaType))
      context.addIssue({ code: 'custom', path: ['mediaType'], message: `must be ${allowed.join(' or ')} for a ${item.kind}` });
    const start = imageStarts[item.mediaType];
    if (start && !item.data.startsWith(start))
      context.addIssue({ code: 'custom', path: ['data'], message: `does not begin like ${item.mediaType}` });
  });
export type AttachmentItem = z.infer<typeof attachmentItemSchema>;

/** Base64 of the first bytes of each image format (PNG specification 5.2, JPEG ITU-T T.81 B.1.1.3). */
const imageStarts: Readonly<Record<string, string>> = { 'image/png': 'iVBORw0KGgo', 'image/jpeg': '/9j/' };
