import { describe, expect, it } from 'vitest';
import { fillTemplate } from '../templates/template.ts';
import { isDone, readPointer, trackerSchema } from './tracker.ts';

const problemOf = (settings: object): string => trackerSchema.safeParse(settings).error?.issues[0]?.message ?? '';

describe('a tracker', () => {
  it('may be a form alone', () => {
    const { form, make, headers, doneStates } = trackerSchema.parse({ form: 'https://boxes.larkfield.example/new?title={{title}}' });
    expect({ form, make }).toEqual({ form: 'https://boxes.larkfield.example/new?title={{title}}', make: null });
    expect(headers).toEqual({ authorization: 'Bearer {{secret}}' });
    expect(doneStates).toContain('closed');
  });

  it.each([
    ['a host that an app could choose', { form: 'https://{{title}}/new' }, 'whose host is written out'],
    ['a host that begins with a placeholder of ours', { form: 'https://x.{{app}}.example/' }, 'whose host is written out'],
    ['another scheme', { form: 'javascript:alert(1)' }, 'whose host is written out'],
    ['its secret in an address, which proxies log', { make: { address: 'https://t.example/{{secret}}' } }, 'holds no {{secret}}'],
    ['a placeholder that is not known', { form: 'https://t.example/?t={{colour}}' }, '{{colour}} is not known; use {{title}}'],
    ['a page without its number', { page: 'https://t.example/tickets' }, 'must hold {{number}}'],
    ['a pointer that is none', { make: { address: 'https://t.example/', number: 'data.number' } }, 'must be a JSON Pointer'],
    ['a word that nobody knows', { colour: 'red' }, 'Unrecognized key'],
  ])('is refused with %s', (_, settings, reason) => expect(problemOf(settings)).toContain(reason));

  it('keeps what an app sent one value wherever it stands', () => {
    const hostile = '"},{"admin": "\n</script>&x=1#';
    expect(JSON.parse(fillTemplate('{"title": "{{title}}"}', 'json', { title: hostile }))).toEqual({ title: hostile });
    expect(new URL(fillTemplate('https://t.example/new?title={{title}}', 'form', { title: hostile })).searchParams.get('title')).toBe(
      hostile,
    );
    expect(fillTemplate('{{title}}', 'header', { title: 'a\r\nx-admin: 1' })).toBe('a x-admin: 1');
  });

  it('knows what is done, however it is written', () => {
    const tracker = trackerSchema.parse({ doneStates: ['Done', 'won’t do'] });
    expect([' done', 'WON’T DO', 'open'].map((state) => isDone(tracker, state))).toEqual([true, true, false]);
  });
});

describe('a place in JSON (RFC 6901)', () => {
  // The examples of its section 5, of those that name a text or a number.
  const value = { foo: ['bar', 'baz'], '': 0, 'a/b': 1, 'c%d': 2, 'e^f': 3, 'g|h': 4, 'i\\j': 5, 'k"l': 6, ' ': 7, 'm~n': 8 };
  it.each([
    ['/foo/0', 'bar'],
    ['/', '0'],
    ['/a~1b', '1'],
    ['/c%d', '2'],
    ['/e^f', '3'],
    ['/g|h', '4'],
    ['/i\\j', '5'],
    ['/k"l', '6'],
    ['/ ', '7'],
    ['/m~0n', '8'],
    ['', null],
    ['/foo', null],
    ['/foo/7', null],
    ['/foo/length', null],
    ['/constructor/name', null],
  ])('%s is %s', (pointer, text) => expect(readPointer(value, pointer)).toBe(text));
});
