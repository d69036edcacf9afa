import { z } from 'zod';
import { printable } from './printable.ts';

/** Ceilings of one report. Whatever is longer is refused (protocol) or cut with a note (crash files). */
export const reportLimits = {
  exceptions: 64,
  threads: 500,
  framesPerStack: 2_000,
  frames: 20_000,
  images: 2_000,
  registers: 128,
  sections: 32,
  sectionCharacters: 65_536,
  messageCharacters: 16_384,
  nameCharacters: 1_024,
  attributes: 100,
  attributeCharacters: 4_096,
  listElements: 100,
  flags: 200,
  trailEvents: 500,
} as const;

/** Text of people and programs, made printable. */
export const text = (characters: number) => z.string().max(characters).overwrite(printable);
export const name = text(reportLimits.nameCharacters);
/** A value that need not be told: left out and null mean the same. */
export const optional = <Schema extends z.ZodType>(schema: Schema) => schema.nullable().default(null as never);

/** An unsigned number of up to 64 bits, which JSON numbers cannot hold. */
export const hexadecimal = z.string().regex(/^0x[0-9a-f]{1,16}$/, { error: 'must read like "0x7f00a1b2"' });

/** A version name or a build number: one printable line. */
export const buildName = z
  .string()
  .trim()
  .min(1)
  .max(100)
  .regex(/^\P{C}+$/u, { error: 'holds control characters' });

const scalar = z.union([text(reportLimits.attributeCharacters), z.number(), z.boolean()]);

/** Named values of an app; a value may be a list. */
export const attributesSchema = z
  .record(text(200), z.union([scalar, z.array(scalar).max(reportLimits.listElements)]))
  .refine((all) => Object.keys(all).length <= reportLimits.attributes, { error: `at most ${reportLimits.attributes} attributes` });
export type Attributes = z.infer<typeof attributesSchema>;
export type AttributeValue = Attributes[string];

/** Feature flags and experiments with the variant they had. */
export const flagsSchema = z
  .record(text(200), text(200))
  .refine((all) => Object.keys(all).length <= reportLimits.flags, { error: `at most ${reportLimits.flags} flags` });
