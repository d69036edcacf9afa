import { z } from 'zod';
import { printable } from './printable.ts';

/**
 * Ceilings of one report, the same on every way in. Whatever is beyond them is clipped, cut or left out, and told of in a
 * remark: nothing is refused for being long.
 */
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
  attributeNameCharacters: 200,
  attributeCharacters: 4_096,
  listElements: 100,
  flags: 200,
  flagCharacters: 200,
  trailEvents: 500,
  remarks: 40,
  remarkCharacters: 500,
  /** Of a report as it is kept, JSON. */
  bodyCharacters: 4_000_000,
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

/** Named values, so many at most. */
export function limitedRecord<Key extends z.core.$ZodRecordKey, Value extends z.core.$ZodType>(key: Key, value: Value, maximum: number) {
  return z.record(key, value).superRefine((all, context) => {
    const found = Object.keys(all).length;
    if (found > maximum)
      context.addIssue({
        code: 'too_big',
        origin: 'object',
        maximum,
        inclusive: true,
        input: all,
        message: `at most ${maximum}, found ${found}`,
      });
  });
}

/** A moment by a device's clock, however wrong it goes: a year that a database cannot hold is none. */
export const deviceTime = z.iso
  .datetime({ offset: true })
  .refine((at) => at >= '1970' && at < '2200', { error: 'must lie between 1970 and 2200' });

const scalar = z.union([text(reportLimits.attributeCharacters), z.number(), z.boolean()]);

/** Named values of an app; a value may be a list. */
export const attributesSchema = limitedRecord(
  text(reportLimits.attributeNameCharacters),
  z.union([scalar, z.array(scalar).max(reportLimits.listElements)]),
  reportLimits.attributes,
);
export type Attributes = z.infer<typeof attributesSchema>;
export type AttributeValue = Attributes[string];

/** Feature flags and experiments with the variant they had. */
export const flagsSchema = limitedRecord(text(reportLimits.attributeNameCharacters), text(reportLimits.flagCharacters), reportLimits.flags);
