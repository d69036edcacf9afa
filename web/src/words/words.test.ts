import { wordAgo, wordClock, wordDay, wordSeconds, wordTime } from '@rough-ember/core/words/time';
import { describe, expect, it } from 'vitest';
import { printCsv } from './csv';
import { wordBytes, wordCount, wordRate, wordShare } from './numbers';
import { sentence } from './sentence';

describe('numbers in words', () => {
  it.each([
    [0, '0 B'],
    [999, '999 B'],
    [1_234, '1.2 kB'],
    [212_400, '212 kB'],
    [9_100_000, '9.1 MB'],
    [5_000_000_000, '5 GB'],
  ])('%d bytes are %s', (bytes, words) => expect(wordBytes(bytes)).toBe(words));

  it.each([
    [0, '0'],
    [0.0421, '0.042'],
    [0.5, '0.5'],
    [1.26, '1.3'],
    [9.96, '10.0'],
    [27.4, '27'],
    [1_234.5, '1,235'],
  ])('%d for 1,000 sessions are %s', (rate, words) => expect(wordRate(rate)).toBe(words));

  it.each([
    [0, '0 %'],
    [0.0004, '0.0 %'],
    [0.004, '0.4 %'],
    [0.873, '87 %'],
    [0.99, '99 %'],
    [0.996, '99.6 %'],
    [1, '100 %'],
  ])('a share of %d is %s', (share, words) => expect(wordShare(share)).toBe(words));

  it('counts one apart', () =>
    expect([wordCount(1, 'person', 'people'), wordCount(1284, 'person', 'people')]).toEqual(['1 person', '1,284 people']));
});

describe('time in words', () => {
  const now = '2026-11-23T08:00:00.000Z';
  it.each([
    ['2026-11-23T07:59:30.000Z', 'just now'],
    ['2026-11-23T07:58:30.000Z', 'a minute ago'],
    ['2026-11-23T03:00:00.000Z', '5 hours ago'],
    ['2026-11-22T07:00:00.000Z', 'a day ago'],
    ['2026-11-11T08:00:00.000Z', '12 days ago'],
    ['2026-08-31T08:00:00.000Z', 'on 31 Aug 2026'],
    ['2026-11-23T08:00:30.000Z', 'just now'],
  ])('%s is %s', (iso, words) => expect(wordAgo(iso, now)).toBe(words));

  it('tells the seconds of a clock that hangs somewhere', () => {
    expect(wordSeconds(now)).toBe('08:00:00 UTC');
    expect(wordSeconds(now, 'Europe/Oslo')).toBe('09:00:00 UTC+1');
  });
  it('names one zone', () => expect(wordTime(now)).toBe('23 Nov 2026, 08:00 UTC'));
  it.each([
    ['UTC', '2026-11-23T08:00:00.000Z', '23 Nov 2026, 08:00 UTC'],
    ['Europe/London', '2026-11-23T08:00:00.000Z', '23 Nov 2026, 08:00 UTC'],
    ['Europe/Oslo', '2026-11-30T23:30:00.000Z', '1 Dec 2026, 00:30 UTC+1'],
    ['Europe/Oslo', '2026-07-01T23:30:00.000Z', '2 Jul 2026, 01:30 UTC+2'],
    ['America/St_Johns', '2027-01-01T02:00:00.000Z', '31 Dec 2026, 22:30 UTC-3:30'],
  ])('says in %s when %s was', (zone, iso, words) => expect(wordTime(iso, zone)).toBe(words));
  it('tells the time of what is of today where one is, and the day of the rest', () => {
    const late = '2026-11-30T23:30:07.000Z';
    expect(wordClock(late, '2026-12-01T08:00:00.000Z', 'Europe/Oslo')).toBe('00:30:07');
    expect(wordClock(late, '2026-12-01T08:00:00.000Z')).toBe('30 Nov 2026');
  });
});

describe('days and sentences', () => {
  it('a day near enough needs no year', () => expect(wordDay('2026-11-03T08:00:00.000Z')).toBe('3 Nov'));

  it.each([
    ['It is gone', 'It is gone.'],
    ['It is gone. ', 'It is gone. '],
    ['Is it gone?', 'Is it gone?'],
    ['wait …', 'wait …'],
    ['he said “no”', 'he said “no”'],
  ])('%j as a sentence is %j', (text, whole) => expect(sentence(text)).toBe(whole));
});

describe('comma-separated text', () => {
  it('quotes texts and leaves numbers as they are (RFC 4180)', () => {
    expect(
      printCsv([
        ['device', 'rate', 'since'],
        ['Tarn, "Go" 3', 1.5, null],
        ['a\nb', -2, ''],
      ]),
    ).toBe('"device","rate","since"\r\n"Tarn, ""Go"" 3",1.5,\r\n"a\nb",-2,""');
  });

  it.each(['=1+1', '+1', '-1', '@SUM(A1)', '\t=1', ' =1', '\u0000=cmd', '|calc', '%0A=1'])(
    'keeps %j from being run as a formula',
    (value) => expect(printCsv([[value]])).toBe(`"'${value}"`),
  );
});
