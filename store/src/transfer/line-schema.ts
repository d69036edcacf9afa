import { z } from 'zod';
import { explanationForm, readableForm, reportForm } from '../stored-forms.ts';
import { type ColumnForm, partOf, type TransferPartName, transferPartNames } from './transfer-parts.ts';

const text = z.string().max(16_000_000);

const forms: Readonly<Record<ColumnForm, z.ZodType>> = {
  number: z.number(),
  flag: z.boolean(),
  text,
  time: z.iso.datetime(),
  day: z.iso.date(),
  bytes: z.string().regex(/^([0-9a-f]{2}){1,64}$/, { error: 'is not hexadecimal' }),
  content: z.base64().max(64_000_000),
  json: z.json(),
  case: z.int().min(1),
};

const term = z.strictObject({ field: z.string().max(30), key: z.string().max(200), value: z.string().max(10_000) });
const need = z.strictObject({
  kind: z.string().max(40),
  symbolId: z.string().max(200),
  symbolKey: z.string().max(200),
  name: z.string().max(255),
  found: z.boolean(),
  framesCovered: z.int().min(0).max(65_535),
  framesUncovered: z.int().min(0).max(65_535),
});

/** What lines of a part have beside the columns of its table. */
const beside: Partial<Record<TransferPartName, z.ZodRawShape>> = {
  'session-days': { rawFrom: forms.day, attributes: z.array(z.string().max(200)).max(1_000) },
  cases: { keys: z.array(forms.bytes).max(10_000) },
  reports: {
    report: reportForm.schema,
    readable: readableForm.schema.nullable(),
    explanation: explanationForm.schema.nullable(),
    terms: z.array(term).max(5_000),
    needs: z.array(need).max(5_000),
  },
};

const schemaOf = (name: TransferPartName) =>
  z.strictObject({
    ...Object.fromEntries(
      Object.entries(partOf(name).columns).map(([key, { form, isOptional }]) => [key, isOptional ? forms[form].nullable() : forms[form]]),
    ),
    ...beside[name],
  });

/** The form of a line of each part. */
export const lineSchemas = Object.fromEntries(transferPartNames.map((name) => [name, schemaOf(name)])) as Readonly<
  Record<TransferPartName, ReturnType<typeof schemaOf>>
>;
