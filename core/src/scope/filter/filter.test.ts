import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fieldNames, meaningOf } from '../../fields/fields.ts';
import { expectedAt } from './expected-at.ts';
import { allOf, comparators, conditionsOf, type Filter, restrictionsOf } from './filter.ts';
import { parseFilter } from './parse-filter.ts';
import { printFilter, wordCondition } from './print-filter.ts';

const read = (text: string): Filter => {
  const parsed = parseFilter(text);
  if (!parsed.ok) throw new Error(`${text}: ${parsed.problem.message}`);
  if (parsed.value === null) throw new Error('nothing to read');
  return parsed.value;
};
const mistake = (text: string) => {
  const parsed = parseFilter(text);
  return parsed.ok ? null : `${parsed.problem.at}: ${parsed.problem.message}`;
};

describe('a filter is read', () => {
  it.each([
    ['version >= 4.2.0', 'version >= 4.2.0'],
    ['flags:"night-map"', 'flags:night-map'],
    ['flags.night-map=on', 'flags.night-map = on'],
    ['attributes.map.layers:terrain', 'attributes.map.layers:terrain'],
    ["device.model = 'Fieldphone 7'", 'device.model = "Fieldphone 7"'],
    ['-country = NO', 'NOT country = NO'],
    ['NOT (country = NO OR country = DE)', 'NOT (country = NO OR country = DE)'],
    ['country = NO OR country = DE kind = crash', '(country = NO OR country = DE) AND kind = crash'],
    ['no perch', 'no AND perch'],
    ['"no perch"', '"no perch"'],
    ['NightMap.tileFor', '"NightMap.tileFor"'],
    ['attributes.depth < -4.5', 'attributes.depth < "-4.5"'],
    ['type:Illegal', 'type:Illegal'],
    ['message = "*tile*"', 'message = *tile*'],
    ['carrier = ""', 'carrier = ""'],
  ])('%s', (text, printed) => {
    expect(printFilter(read(text))).toBe(printed);
  });

  it('with OR binding tighter than AND', () => {
    expect(read('kind = crash AND country = NO OR country = DE')).toMatchObject({
      kind: 'and',
      parts: [{ field: 'kind' }, { kind: 'or' }],
    });
  });

  it('or is nothing at all', () => {
    expect(parseFilter('  ')).toEqual({ ok: true, value: null });
  });

  it.each([
    ['version >', '9: a value is missing behind ">"'],
    ['(kind = crash', '0: this "(" is not closed'],
    ['kind = crash)', '12: there is no "(" to this ")"'],
    ['kind = boom', '7: kind is one of crash, hang, kill, error'],
    ['country < DE', '8: "country" has no order; use =, != or :'],
    ['build > many', '8: "many" is not a number'],
    ['colour = red', '0: there is no field "colour"; for what the app tells, write attributes.colour'],
    ['os = Android', '0: there is no field "os"; there is "os.name", "os.version"'],
    ['flags = on', '6: write flags.name = value, or flags:name for those that have it at all'],
    ['a OR', '4: something is missing at the end'],
    ['OR a', '0: "OR" needs something on both sides'],
    ['device = "Field', '9: the quotation mark is not closed'],
    ['near(4)', '4: there are no functions in a filter'],
    ['a ! b', '2: "!" needs "=" behind it; to say that something does not hold, write NOT or "-"'],
    [Array.from({ length: 31 }, () => 'a').join(' '), '60: a filter has at most 30 conditions'],
    ['('.repeat(40), '32: parentheses are nested deeper than 32'],
  ])('with its mistake pointed at: %s', (text, said) => {
    expect(mistake(text)).toBe(said);
  });

  const names = fc.constantFrom(...fieldNames);
  const values = fc.string({ minLength: 1, maxLength: 12 });
  const restriction = fc.tuple(names, fc.constantFrom(...comparators), values).map(([field, comparator, value]): Filter => {
    const { order, isMap } = meaningOf(field);
    const isOrdered = !['=', '!=', ':'].includes(comparator);
    const fitting = isOrdered && order === 'none' ? '=' : comparator;
    const fits = field === 'kind' ? 'hang' : isOrdered && order === 'number' ? String(value.length) : value;
    return { kind: 'restriction', field, key: isMap ? `k.${value.replaceAll('.', '')}` : null, comparator: fitting, value: fits, at: 0 };
  });
  const text = values.map((value): Filter => ({ kind: 'text', text: value, at: 0 }));
  const tree = fc.letrec<{ any: Filter }>((tie) => ({
    any: fc.oneof(
      { maxDepth: 3 },
      restriction,
      text,
      tie('any').map((part): Filter => ({ kind: 'not', part })),
      fc.tuple(tie('any'), tie('any')).map((parts): Filter => ({ kind: 'or', parts })),
      fc.tuple(tie('any'), tie('any')).map((parts): Filter => ({ kind: 'and', parts })),
    ),
  })).any;

  it('and prints as a text that reads back as the same', () => {
    fc.assert(
      fc.property(tree, (filter) => {
        const printed = printFilter(filter);
        const again = parseFilter(printed);
        if (!again.ok) throw new Error(`${printed}: ${again.problem.message}`);
        // Parts of one kind are joined, so that the second print is the shortest.
        const shortest = printFilter(again.value);
        const third = parseFilter(shortest);
        expect(third.ok && printFilter(third.value)).toBe(shortest);
        expect(restrictionsOf(again.value).map(({ at: _at, ...one }) => one)).toEqual(
          restrictionsOf(filter).map(({ at: _at, ...one }) => one),
        );
      }),
    );
  });

  it('or refused, whatever is thrown at it', () => {
    fc.assert(fc.property(fc.string({ maxLength: 200 }), (any) => void parseFilter(any)));
    const pieces = fc.array(
      fc.constantFrom('(', ')', '.', ':', '=', '!=', '-', 'AND', 'OR', 'NOT', 'version', 'flags', '4.2', '"', "'", ' ', '\\', ','),
    );
    fc.assert(fc.property(pieces, (all) => void parseFilter(all.join(''))));
  });
});

describe('the conditions of a filter', () => {
  it('are taken apart and put together', () => {
    const filter = read('kind = crash AND (country = NO OR country = DE) AND tiles');
    expect(conditionsOf(filter).map(printFilter)).toEqual(['kind = crash', 'country = NO OR country = DE', 'tiles']);
    expect(printFilter(allOf(conditionsOf(filter).slice(1)))).toBe('(country = NO OR country = DE) AND tiles');
    expect(allOf([])).toBeNull();
  });

  it.each([
    ['flags.night-map = on', 'flag night-map is on'],
    ['flags:night-map', 'flag night-map is there'],
    ['version >= 4.2.0', 'version from 4.2.0'],
    ['NOT country = NO', 'not country is NO'],
    ['attributes.depth > 4', 'depth over 4'],
    ['carrier != *', 'carrier is not told'],
    ['tiles', '“tiles” occurs'],
    ['country = NO OR country = DE', 'country is NO or country is DE'],
  ])('read as words: %s', (text, words) => {
    expect(wordCondition(read(text))).toBe(words);
  });
});

describe('what the completion offers', () => {
  it.each([
    ['', { kind: 'field', typed: '', from: 0 }],
    ['ver', { kind: 'field', typed: 'ver', from: 0 }],
    ['kind = crash AND os.v', { kind: 'field', typed: 'os.v', from: 17 }],
    ['country = ', { kind: 'value', field: 'country', typed: '', from: 10 }],
    ['device.model = "Field', { kind: 'value', field: 'device.model', typed: 'Field', from: 15 }],
    ['version >= 4.2', { kind: 'value', field: 'version', typed: '4.2', from: 11 }],
    ['flags.nig', { kind: 'key', field: 'flags', typed: 'nig', from: 6 }],
    ['flags:nig', { kind: 'key', field: 'flags', typed: 'nig', from: 6 }],
    ['(attributes.map.layers:te', { kind: 'value', field: 'attributes', key: 'map.layers', typed: 'te', from: 23 }],
  ])('behind "%s"', (text, offered) => {
    expect(expectedAt(text, text.length)).toMatchObject(offered);
  });

  it('is there at every place of any text', () => {
    fc.assert(
      fc.property(fc.string({ maxLength: 60 }), fc.nat(60), (text, place) => {
        const caret = Math.min(place, text.length);
        const { from, to } = expectedAt(text, caret);
        expect(from).toBeLessThanOrEqual(to);
        expect(to).toBe(caret);
      }),
    );
  });
});
