import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { countNames, crashFreeNames, type Measure, statistics } from './measures.ts';
import { chartNames, longestQuestion, parseQuestion, printQuestion, problemOf, type Question, splitFields, stepNames } from './question.ts';

const read = (text: string): Question => {
  const parsed = parseQuestion(text);
  if (!parsed.ok) throw new Error(parsed.problem.message);
  return parsed.value;
};
const complaint = (text: string): string | null => {
  const parsed = parseQuestion(text);
  return parsed.ok ? null : parsed.problem.message;
};

const anyKey = fc.string({ minLength: 1, maxLength: 40, unit: 'grapheme' });
const anyMeasure: fc.Arbitrary<Measure> = fc.oneof(
  fc.record({ kind: fc.constant('count' as const), count: fc.constantFrom(...countNames) }),
  fc.record({ kind: fc.constant('rate' as const), count: fc.constantFrom(...countNames), per: fc.constantFrom(...countNames) }),
  fc.record({ kind: fc.constant('crash-free' as const), name: fc.constantFrom(...crashFreeNames) }),
  fc.record({
    kind: fc.constant('attribute' as const),
    statistic: fc.constantFrom(...statistics),
    attribute: anyKey,
    of: fc.constantFrom('reports' as const, 'sessions' as const),
  }),
  fc.record({ kind: fc.constant('request time' as const), statistic: fc.constantFrom('median' as const, 'p95' as const) }),
);
const anySplit = fc.oneof(
  fc.record({ field: fc.constantFrom(...splitFields.filter((one) => one !== 'flags' && one !== 'attributes')), key: fc.constant('') }),
  fc.record({ field: fc.constantFrom('flags' as const, 'attributes' as const), key: anyKey }),
);
const anyQuestion: fc.Arbitrary<Question> = fc.record({
  measure: anyMeasure,
  splits: fc.uniqueArray(anySplit, { maxLength: 3, selector: ({ field, key }) => `${field} ${key}` }),
  every: fc.option(fc.constantFrom(...stepNames)),
  chart: fc.option(fc.constantFrom(...chartNames)),
});

describe('a written question', () => {
  it('is read as it was printed', () => {
    fc.assert(
      fc.property(anyQuestion, (question) => {
        fc.pre(problemOf(question) === null);
        expect(read(printQuestion(question))).toEqual(question);
      }),
    );
  });

  it.each([
    ['Affected People by carrier', 'affected people by carrier'],
    ['count of reports by system version and country each week', 'reports by os.version, country per week'],
    [
      'crashed sessions per 1,000 sessions by version, device per day as lines',
      'crashed sessions per 1000 sessions by version, device.model per day as lines',
    ],
    ['reports per sessions', 'reports per 1000 sessions'],
    ['reports per month', 'reports per month'],
    ['people by flag night-map', 'people by flags.night-map'],
    ['p95 of attributes."hide name" of sessions', 'p95 of attributes."hide name" of sessions'],
    ['median request time by version', 'median of request time by version'],
    ['crash-free people by version as before and after', 'crash-free people by version as before and after'],
    ['sessions crashed at start per sessions per day since release', 'sessions crashed at start per 1000 sessions per day since release'],
  ])('%s', (written, printed) => {
    expect(printQuestion(read(written))).toBe(printed);
  });

  it.each([
    ['', /something to count; there are reports, cases/],
    ['birds by version', /"birds by version" is not something to count/],
    ['reports by colour', /"colour" is no field to divide by; there are kind, version/],
    ['reports by', /a field is missing/],
    ['reports by stack', /no field to divide by/],
    ['reports per fortnight', /"fortnight" is not a step of time/],
    ['reports as pie', /"pie" is not a chart; there are lines/],
    ['reports by version, country, carrier, build', /3 fields at most/],
    ['people by screen', /sessions do not tell screen; divide them by version/],
    ['people per hour', /counted by day/],
    ['people per 1000 people', /always the same/],
    ['mean of request time', /there is no mean/],
    ['mean of version', /told of attributes/],
    ['reports please', /"please" was not understood/],
    ['x'.repeat(longestQuestion + 1), /at most/],
  ])('%s is refused with what would be understood', (written, words) => {
    expect(complaint(written)).toMatch(words);
  });

  it('of any text is read or refused, quickly', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: longestQuestion, unit: 'binary' }), (text) => {
        const parsed = parseQuestion(text);
        if (parsed.ok) expect(read(printQuestion(parsed.value))).toEqual(parsed.value);
        else expect(parsed.problem.message).not.toBe('');
      }),
    );
  });
});
