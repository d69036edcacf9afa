import { defaultKeyRules } from '@rough-ember/core/report/key-rules';
import { describe, expect, it } from 'vitest';
import { quietReasons } from './quiet-reasons';

type Overview = Parameters<typeof quietReasons>[0];

const key = {
  id: 1,
  name: 'phones',
  keyText: 'intake_x',
  createdAt: '2026-11-01T00:00:00Z',
  revokedAt: null,
  lastUsedAt: null,
  rules: defaultKeyRules,
};
const quiet: Overview = { keys: [key], log: [], hours: [] };
const entry = (more: object) => ({ status: 202, reason: null, ...more }) as Overview['log'][number];
const counts = { accepted: 0, duplicate: 0, excluded: 0, 'sampled-out': 0, 'passed-over': 0, refused: 0 };
const hour = (more: object) => ({ hoursAgo: 0, counts: { ...counts, ...more } });
const phonesReach = 'https://ember.example';

const verdictOn = (name: string, overview: Partial<Overview>, address = phonesReach) =>
  quietReasons({ ...quiet, ...overview }, address).find((one) => one.name === name);
const likely = (overview: Partial<Overview>, address = phonesReach) =>
  quietReasons({ ...quiet, ...overview }, address)
    .filter((one) => one.verdict === 'likely')
    .map((one) => one.name);

describe('why no report comes', () => {
  it('has five reasons, none of which is likely while nothing is known', () => {
    expect(quietReasons(quiet, phonesReach)).toHaveLength(5);
    expect(likely({})).toEqual([]);
  });

  it.each([
    ['http://127.0.0.1:4310', 'this computer alone'],
    ['http://localhost:4310', 'this computer alone'],
    ['http://[::1]:4310', 'this computer alone'],
    ['http://192.168.1.7:4310', 'not encrypted'],
  ])('may be the address %s', (address, words) => {
    expect(likely({}, address)).toEqual(['address']);
    expect(verdictOn('address', {}, address)?.words).toContain(words);
  });

  it('may be a key that is wrong, or revoked', () => {
    expect(likely({ log: [entry({ status: 401, reason: 'the key is unknown' })] })).toEqual(['key']);
    expect(likely({ keys: [{ ...key, revokedAt: '2026-11-02T00:00:00Z' }] })).toEqual(['key']);
    expect(verdictOn('key', { keys: [{ ...key, lastUsedAt: '2026-11-02T00:00:00Z' }] })?.verdict).toBe('unlikely');
  });

  it('may be a build type that is excluded, or refused', () => {
    expect(likely({ hours: [hour({ excluded: 3 })] })).toEqual(['build type']);
    expect(likely({ log: [entry({ status: 400, reason: 'this key takes nothing from builds of type "debug"' })] })).toEqual(['build type']);
  });

  it('may be the rules of the key: a share, a limit, or a kind', () => {
    expect(likely({ hours: [hour({ 'sampled-out': 2 })] })).toEqual(['rules']);
    expect(likely({ log: [entry({ status: 429 })] })).toEqual(['rules']);
    const noCrashes = { ...key, rules: { ...defaultKeyRules, kinds: ['error' as const] } };
    expect(verdictOn('rules', { keys: [noCrashes] })?.words).toContain('crash, hang, kill');
    expect(verdictOn('rules', { keys: [noCrashes, { ...key, id: 2 }] })?.verdict).toBe('unlikely');
  });

  it('may be that the app was not started again', () => {
    expect(likely({ hours: [hour({ accepted: 4 })] })).toEqual(['next launch']);
  });

  it('tells what is likely first', () => {
    const [first] = quietReasons({ ...quiet, hours: [hour({ 'sampled-out': 1 })] }, phonesReach);
    expect(first?.name).toBe('rules');
  });
});
