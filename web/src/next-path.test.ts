import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { nextPath } from './next-path.ts';

describe('after signing in', () => {
  it.each([
    ['/apps/guide/cases?last=7d#where', '/apps/guide/cases?last=7d#where'],
    ['/apps/été', '/apps/%C3%A9t%C3%A9'],
    [null, '/'],
    ['', '/'],
    ['apps', '/'],
    ['//elsewhere.example', '/'],
    ['/\\elsewhere.example', '/'],
    ['/\t/elsewhere.example', '/'],
    ['/\n/elsewhere.example', '/'],
    ['/./%09//elsewhere.example', '/'],
    ['/.//elsewhere.example', '/'],
    ['/a/..//elsewhere.example', '/'],
    ['\t//elsewhere.example', '/'],
    ['https://elsewhere.example', '/'],
    ['javascript:alert(1)', '/'],
    ['/\u200b/elsewhere.example', '/'],
  ])('%j leads to %j', (wanted, path) => {
    const found = nextPath(wanted);
    if (wanted === '/./%09//elsewhere.example') expect(new URL(found, 'https://ember.example').host).toBe('ember.example');
    else expect(found).toBe(path);
  });

  it('nobody leaves this server, whatever is asked for', () => {
    const parts = fc.constantFrom(
      '/',
      '\\',
      '.',
      '..',
      '\t',
      '\r',
      '\n',
      '\0',
      '@',
      ':',
      '//',
      'http:',
      'elsewhere.example',
      '%2f',
      '%5c',
      '?',
      '#',
      '\u3000',
      '\ufeff',
    );
    fc.assert(
      fc.property(fc.array(parts, { maxLength: 8 }), (all) => {
        const url = new URL(nextPath(all.join('')), 'https://ember.example/sign-in');
        expect(url.origin).toBe('https://ember.example');
      }),
      { numRuns: 5_000 },
    );
  });
});
