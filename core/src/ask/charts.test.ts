import { describe, expect, it } from 'vitest';
import { addsUp, chartOf, chartsOf } from './charts.ts';
import { parseQuestion, type Question } from './question.ts';

const read = (text: string): Question => {
  const parsed = parseQuestion(text);
  if (!parsed.ok) throw new Error(parsed.problem.message);
  return parsed.value;
};

describe('the chart of a question', () => {
  it.each([
    ['reports', 'number'],
    ['reports per day', 'bars'],
    ['crash-free sessions per day', 'lines'],
    ['reports by version per week', 'lines'],
    ['people by device', 'bars'],
    ['reports per sessions by device, version', 'matrix'],
    ['reports by device, version, country', 'table'],
    ['median of attributes.tiles', 'histogram'],
    ['reports by country as map', 'map'],
    ['reports by version as map', 'bars'],
  ])('%s is drawn as %s', (text, chart) => {
    expect(chartOf(read(text))).toBe(chart);
  });

  it('has parts of a whole only where they add up', () => {
    expect(chartsOf(read('reports by device'))).toContain('ring');
    expect(chartsOf(read('affected people by device'))).not.toContain('ring');
    expect(chartsOf(read('people by device per day'))).not.toContain('stacked bars');
    expect(addsUp(read('sum of attributes.tiles').measure)).toBe(true);
    expect(addsUp(read('crash-free people').measure)).toBe(false);
  });
});
