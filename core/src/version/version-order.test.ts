import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { compareVersions, distinctVersions, isPreRelease, isSameVersion, nextVersion } from './version-order.ts';

describe('version order', () => {
  it('sorts by number, with pre-releases before their release and longer versions after', () => {
    const ordered = [
      '3.9',
      '4.0.0-alpha',
      '4.0.0-alpha.1',
      '4.0.0-beta.2',
      '4.0.0-beta.11',
      '4.0.0',
      '4.0.0.1',
      '4.0.1',
      '4.2.0rc1',
      '4.2.0',
      '4.10',
      '10',
    ];
    const shuffled = [...ordered].reverse();
    expect(shuffled.sort(compareVersions)).toEqual(ordered);
  });

  it.each([
    ['4.2', '4.2.0'],
    ['v4.2.0', '4.2.0'],
    ['4.2.0+430', '4.2.0'],
  ])('takes %s and %s for the same version', (a, b) => expect(compareVersions(a, b)).toBe(0));

  it('agrees with comparing dotted numbers one by one', () => {
    const dotted = fc.array(fc.nat(3000), { minLength: 3, maxLength: 3 });
    fc.assert(
      fc.property(dotted, dotted, (a, b) => {
        const byHand = a.map((part, index) => Math.sign(part - (b[index] ?? 0))).find((sign) => sign !== 0) ?? 0;
        expect(compareVersions(a.join('.'), b.join('.'))).toBe(byHand);
      }),
    );
  });
});

describe('the version that follows', () => {
  it.each([
    ['4.3.1', '4.3.2'],
    ['4.9', '4.10'],
    ['7', '8'],
    ['4.3.1-rc.2', '4.3.1'],
    ['2026.11.9', '2026.11.10'],
    ['nightly', 'nightly'],
  ])('%s is %s', (version, next) => expect(nextVersion(version)).toBe(next));

  it.each(['4.3.1', '4.9', '7', '4.3.1-rc.2'])('of %s comes after it', (version) =>
    expect(compareVersions(nextVersion(version), version)).toBeGreaterThan(0),
  );
});

describe('names of versions', () => {
  it('that mean the same are one, under the name that comes first', () => {
    expect(isSameVersion('v4.3', '4.3.0')).toBe(true);
    expect(isSameVersion('4.3.0', '4.3.0-rc.1')).toBe(false);
    expect(distinctVersions(['4.3.0', 'v4.3', '4.2.0', '4.10', 'v4.2.0'])).toEqual(['4.2.0', '4.3.0', '4.10']);
  });

  it('tell what came before a release', () => {
    expect(['4.3.1-rc.2', '4.3.1b1', 'v4.4.0-beta'].every(isPreRelease)).toBe(true);
    expect(['4.3.1', 'v4.3', '2026.11.30'].some(isPreRelease)).toBe(false);
  });
});
