import { z } from 'zod';
import { parseScope } from '../scope/scope.ts';
import { longestQuestion, parseQuestion } from './question.ts';

/** How much of the width of a sheet a chart takes. */
export const chartWidths = ['third', 'half', 'whole'] as const;
export type ChartWidth = (typeof chartWidths)[number];

export const mostCharts = 40;

const scopeText = z
  .string()
  .max(6_000)
  .refine((text) => parseScope(new URLSearchParams(text)).ok, { error: 'is no scope; take the parameters of an address' });

const questionText = z
  .string()
  .max(longestQuestion)
  .superRefine((text, context) => {
    const question = parseQuestion(text);
    if (!question.ok) context.addIssue({ code: 'custom', message: question.problem.message });
  });

/** A chart of a sheet: a question with its title, and of which scope, unless it is that of the sheet. */
export const chartSchema = z.strictObject({
  title: z.string().trim().min(1, { error: 'give it a title' }).max(200),
  note: z.string().max(2_000).default(''),
  question: questionText,
  scope: scopeText.nullable().default(null).describe('As address parameters; null for that of the sheet.'),
  width: z.enum(chartWidths).default('half'),
});
export type SheetChart = z.infer<typeof chartSchema>;

export const sheetSchema = z.strictObject({
  title: z.string().trim().min(1, { error: 'give it a title' }).max(200),
  forTeam: z.boolean().default(false),
  scope: scopeText.default(''),
  charts: z.array(chartSchema).max(mostCharts).default([]),
});
export type SheetContent = z.infer<typeof sheetSchema>;

/** The charts of a sheet as they were kept; null where that cannot be read. */
export function readCharts(json: string): SheetChart[] | null {
  try {
    const charts = z.array(chartSchema).safeParse(JSON.parse(json));
    return charts.success ? charts.data : null;
  } catch {
    return null;
  }
}

/** A list with what stands at one place moved to another. */
export function moved<Item>(list: readonly Item[], from: number, to: number): Item[] {
  const rest = list.filter((_, at) => at !== from);
  const item = list[from];
  return item === undefined ? [...list] : [...rest.slice(0, Math.max(0, to)), item, ...rest.slice(Math.max(0, to))];
}
