import { describe, expect, it } from 'vitest';
import { wordFree } from './stability-words';

describe('rates in words', () => {
  it.each([
    [0.9961, '99.61 %'],
    [0.99987, '99.987 %'],
    [1, '100.00 %'],
    [Number.NaN, '–'],
    // Behind the API, where JSON has no NaN.
    [null as unknown as number, '–'],
  ])('%d of sessions without a crash is %s', (share, words) => expect(wordFree(share)).toBe(words));
});
