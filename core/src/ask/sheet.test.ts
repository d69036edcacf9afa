import { describe, expect, it } from 'vitest';
import { chartSchema, moved, readCharts, sheetSchema } from './sheet.ts';

describe('a sheet', () => {
  it('takes charts whose question and scope can be read, and says what cannot', () => {
    expect(chartSchema.parse({ title: ' Carriers ', question: 'reports by carrier' })).toEqual({
      title: 'Carriers',
      note: '',
      question: 'reports by carrier',
      scope: null,
      width: 'half',
    });
    const refused = sheetSchema.safeParse({ title: 'x', charts: [{ title: 'a', question: 'reports by colour', scope: 'last=soon' }] });
    expect(refused.error?.issues.map(({ path, message }) => `${path.join('.')} ${message.slice(0, 30)}`)).toEqual([
      'charts.0.question "colour" is no field to divide',
      'charts.0.scope is no scope; take the paramete',
    ]);
  });

  it('is read as it was kept; what cannot be read is told apart from none', () => {
    const charts = [chartSchema.parse({ title: 'Carriers', question: 'reports by carrier', scope: 'last=7d', width: 'whole' })];
    expect(readCharts(JSON.stringify(charts))).toEqual(charts);
    expect(readCharts('[]')).toEqual([]);
    expect(readCharts('{')).toBeNull();
    expect(readCharts('[{"title":1}]')).toBeNull();
  });
});

it('what is moved in a list stands where it was moved to, and all others in their order', () => {
  expect(moved(['a', 'b', 'c', 'd'], 0, 2)).toEqual(['b', 'c', 'a', 'd']);
  expect(moved(['a', 'b', 'c', 'd'], 3, 0)).toEqual(['d', 'a', 'b', 'c']);
  expect(moved(['a', 'b'], 1, -1)).toEqual(['b', 'a']);
  expect(moved(['a', 'b'], 0, 9)).toEqual(['b', 'a']);
  expect(moved(['a', 'b'], 5, 0)).toEqual(['a', 'b']);
});
