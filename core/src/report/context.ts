import { z } from 'zod';
import { buildName, optional, text } from './limits.ts';

const amount = z.strictObject({ totalBytes: optional(z.int().min(0)), freeBytes: optional(z.int().min(0)) });

export const deviceSchema = z.strictObject({
  manufacturer: optional(text(100)),
  model: text(100).describe('Model code as the system tells it.'),
  memoryClass: optional(text(50)).describe('Such as "2 GB"; left out, it follows from the memory.'),
  memory: optional(amount),
  disk: optional(amount),
  batteryPercent: optional(z.number().min(0).max(100)),
  charging: optional(z.boolean()),
  orientation: optional(z.enum(['portrait', 'landscape', 'flat'])),
  rooted: optional(z.boolean()),
  emulator: optional(z.boolean()),
});

/** Where a report or session happened; the same fields for every kind and every format. */
export const contextSchema = z.strictObject({
  version: buildName.describe('Version as people see it, such as "4.3.0".'),
  build: buildName.describe('Build number, such as "430".'),
  buildType: z
    .string()
    .trim()
    .min(1)
    .max(50)
    .regex(/^\P{C}+$/u)
    .default('release')
    .describe('"release", "debug", or what the app calls its builds.'),
  os: optional(z.strictObject({ name: text(50), version: text(50), build: optional(text(100)) })),
  device: optional(deviceSchema),
  sideLoaded: optional(z.boolean()).describe('Installed from elsewhere than a store.'),
  locale: optional(text(50)),
  country: optional(z.string().regex(/^[A-Z]{2}$/, { error: 'must be two capital letters (ISO 3166-1)' })),
  network: optional(z.enum(['none', 'wifi', 'cellular', 'wired', 'other'])),
  carrier: optional(text(100)),
  installationId: optional(z.uuid()).describe('Made once per installation.'),
  personId: optional(text(200).min(1)).describe('The id the app knows its user by.'),
  contact: optional(text(300)).describe('How to reach the person, if they left it.'),
});
export type ReportContext = z.infer<typeof contextSchema>;
