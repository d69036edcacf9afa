import { expect, it } from 'vitest';
import { parseScope } from '../scope/scope.ts';
import { chartOf } from './charts.ts';
import { exampleSheets } from './example-sheets.ts';
import { parseQuestion, printQuestion } from './question.ts';

const charts = exampleSheets.flatMap((sheet) => sheet.charts.map((chart) => ({ ...chart, of: sheet.name })));

it('are ten, with names of their own', () => {
  expect(new Set(exampleSheets.map(({ name }) => name)).size).toBe(10);
});

it.each(charts)(
  '$of: $title is a question in its plainest words, drawn as it asks, of a scope that is one',
  ({ question, scope, note }) => {
    const parsed = parseQuestion(question);
    if (!parsed.ok) throw new Error(parsed.problem.message);
    expect(printQuestion(parsed.value).replace('per 1000 ', 'per ')).toBe(question);
    expect(chartOf(parsed.value)).toBe(parsed.value.chart);
    expect(parseScope(new URLSearchParams(scope)).ok).toBe(true);
    expect(note.length).toBeGreaterThan(20);
  },
);
