import { describe, expect, it } from 'vitest';
import { defaultKeyRules, fateOf, judgeReport, judgeSession, keyRulesSchema, mostWeight } from './key-rules.ts';

const report = { id: '0192d3a4-5b6c-4d7e-8f90-a1b2c3d4e5f6', kind: 'crash', buildType: 'release' } as const;

describe('the rules of an intake key', () => {
  it('take everything unless told otherwise, debug builds excluded', () => {
    expect(judgeReport(defaultKeyRules, report)).toEqual({ take: true, excluded: false, weight: 1 });
    expect(judgeReport(defaultKeyRules, { ...report, buildType: 'Debug' })).toEqual({ take: true, excluded: true, weight: 1 });
    expect(judgeSession(defaultKeyRules, { buildType: 'debug' })).toEqual({ take: true, excluded: true, weight: 1 });
  });

  it('say why they refuse', () => {
    const rules = keyRulesSchema.parse({ kinds: ['error'], sessions: false, refusedBuildTypes: ['internal'] });
    expect(judgeReport(rules, report)).toMatchObject({ take: false, outcome: 'refused', reason: expect.stringContaining('"crash"') });
    expect(judgeReport(rules, { ...report, kind: 'error', buildType: 'internal' })).toMatchObject({
      reason: expect.stringContaining('"internal"'),
    });
    expect(judgeSession(rules, { buildType: 'release' })).toMatchObject({ take: false });
  });

  it('keep the share they name, and of one report always the same', () => {
    const rules = keyRulesSchema.parse({ samplePercent: { crash: 20 } });
    const ids = Array.from({ length: 5_000 }, (_, index) => `0192d3a4-5b6c-4d7e-8f90-${index.toString(16).padStart(12, '0')}`);
    const kept = ids.filter((id) => judgeReport(rules, { ...report, id }).take);
    expect(kept.length / ids.length).toBeGreaterThan(0.17);
    expect(kept.length / ids.length).toBeLessThan(0.23);
    expect(ids.filter((id) => judgeReport(rules, { ...report, id: id.toUpperCase() }).take)).toEqual(kept);
    expect(ids.every((id) => fateOf(id) >= 0 && fateOf(id) < 100)).toBe(true);
  });

  it('let a report stand for those that the key and the app leave out, within bounds', () => {
    const rules = keyRulesSchema.parse({ samplePercent: { ...defaultKeyRules.samplePercent, crash: 99 } });
    const id = Array.from({ length: 200 }, (_, at) => `report-${at}`).find((one) => fateOf(one) < 99) as string;
    expect(judgeReport(rules, { ...report, id })).toMatchObject({ take: true, weight: 100 / 99 });
    expect(judgeReport(rules, { ...report, id, samplePercent: 10 })).toMatchObject({ weight: 1_000 / 99 });
    expect(judgeReport(defaultKeyRules, { ...report, samplePercent: 0.001 })).toMatchObject({ weight: mostWeight });
  });
});
