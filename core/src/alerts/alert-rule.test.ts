import { describe, expect, it } from 'vitest';
import { alertKindNames, alertRuleSchema, firstRules, isInForce, scopeOfRule } from './alert-rule.ts';
import { kindChoices } from './kind-words.ts';
import { wordRule } from './word-rule.ts';

const rule = (given: object) => alertRuleSchema.parse({ whom: { people: 'everybody' }, ...given });
const nameOf = (id: number) => (id === 7 ? 'the team’s room' : undefined);

describe('a rule', () => {
  it('reads as a sentence', () => {
    const where = 'kind=crash,hang&version=4.3.0%2B&filter=flags.night-map%20%3D%20%22on%22';
    expect(wordRule(rule({ what: { kind: 'report' }, where }), nameOf)).toBe(
      'When any report of crashes and hangs comes in 4.3.0 and later where flags.night-map = on, tell everybody who sees the app, at once, at most every 15 minutes.',
    );
    expect(
      wordRule(
        rule({
          what: { kind: 'count', of: 'people', atLeast: 20, days: 7 },
          where: 'kind=crash',
          whom: { people: ['tom@larkfield.example'], channels: [7, 8] },
          pace: { when: 'daily', workingDays: true },
          until: '2026-12-24T00:00:00.000Z',
        }),
        nameOf,
      ),
    ).toBe(
      'When 20 or more people meet crashes in 7 days, tell tom@larkfield.example, the team’s room and a channel that is gone, gathered once a day, at 8:00, on working days, until 2026-12-24.',
    );
  });

  it('says of each kind what it is', () => {
    for (const kind of alertKindNames) expect(kindChoices[kind]).toMatch(/^[a-z]/);
    const texts = firstRules.map((one) => wordRule(one, nameOf));
    expect(new Set(texts).size).toBe(firstRules.length);
    expect(texts.join()).not.toContain('handled errors');
  });

  it('must tell somebody, and what it does not know is refused', () => {
    const given = { what: { kind: 'report' }, whom: { people: 'nobody', channels: [] } };
    expect(alertRuleSchema.safeParse(given).success).toBe(false);
    expect(alertRuleSchema.safeParse({ ...given, whom: { people: 'nobody', channels: [1] } }).success).toBe(true);
    expect(alertRuleSchema.safeParse({ ...given, whom: { people: 'everybody' }, made: 'up' }).success).toBe(false);
    expect(alertRuleSchema.safeParse({ what: { kind: 'count', of: 'reports', atLeast: 0, days: 1 }, whom: given.whom }).success).toBe(
      false,
    );
  });

  it('counts over all time and in every state of a case, whatever its scope says of these', () => {
    const scope = scopeOfRule(rule({ what: { kind: 'report' }, where: 'last=7d&cases=muted&kind=hang' }));
    expect(scope).toMatchObject({ ok: true, value: { days: null, cases: 'any', kinds: ['hang'] } });
    expect(scopeOfRule(rule({ what: { kind: 'report' }, where: 'kind=made-up' })).ok).toBe(false);
  });

  it('tells until its end, and not while it is paused', () => {
    const until = '2026-12-24T00:00:00.000Z';
    expect(isInForce({ paused: false, until }, Date.parse(until) - 1)).toBe(true);
    expect(isInForce({ paused: false, until }, Date.parse(until))).toBe(false);
    expect(isInForce({ paused: true, until: null }, 0)).toBe(false);
  });
});
