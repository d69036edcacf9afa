import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { reportKinds } from '../report/report-kinds.ts';
import {
  assigneeScopes,
  buildScopes,
  caseScopes,
  defaultScope,
  parseScope,
  printScope,
  type Scope,
  scopeDays,
  scopeOfReports,
  wordDays,
  wordKinds,
  wordVersions,
} from './scope.ts';

const parse = (address: string) => parseScope(new URLSearchParams(address));

describe('a scope', () => {
  it('comes back from the address it was printed to', () => {
    const version = fc.string({ minLength: 1, maxLength: 40 }).filter((text) => text.trim() === text && !text.endsWith('+'));
    const scopes: fc.Arbitrary<Scope> = fc.record({
      days: fc.constantFrom(...scopeDays, null),
      kinds: fc.subarray([...reportKinds], { minLength: 1 }),
      versions: fc.oneof(
        fc.constant({ match: 'any' as const }),
        fc.record({ match: fc.constantFrom('only' as const, 'from' as const), version }),
      ),
      builds: fc.constantFrom(...buildScopes),
      cases: fc.constantFrom(...caseScopes),
      assignee: fc.constantFrom(...assigneeScopes, 'ines+maps@larkfield.example' as const),
      filter: fc.constant(null),
    });
    fc.assert(
      fc.property(scopes, (scope) => {
        expect(parse(printScope(scope))).toEqual({ ok: true, value: scope });
      }),
    );
  });

  it('says who looks after the cases, and of reports nothing else', () => {
    const scope = parse('assignee=me&cases=closed');
    expect(scope.ok && scope.value.assignee).toBe('me');
    expect(scope.ok && printScope(scopeOfReports(scope.value))).toBe('cases=any');
    for (const wrong of ['assignee=ines', 'assignee=a@b@c', `assignee=${'x'.repeat(300)}@larkfield.example`])
      expect(parse(wrong)).toMatchObject({ ok: false, problem: { message: expect.stringContaining('assignee=') } });
  });

  it('carries a filter, and points at a mistake in one', () => {
    const address = 'last=7d&filter=flags.night-map+%3D+on';
    const scope = parse(address);
    expect(scope.ok && printScope(scope.value)).toBe('last=7d&filter=flags.night-map%20%3D%20on');
    expect(parse('filter=colour+%3D+red')).toMatchObject({
      ok: false,
      problem: { message: expect.stringContaining('filter, character 1') },
    });
  });

  it('is read from addresses of earlier versions', () =>
    expect(parse('builds=apart')).toMatchObject({ ok: true, value: { builds: 'excluded' } }));

  it('leaves defaults out of the address', () => expect(printScope(defaultScope)).toBe(''));

  it.each([
    ['last=3w', 'last=3w is not known'],
    ['kind=crash,boom', 'use one or more of crash, hang, kill, error'],
    ['kind=', 'use one or more of'],
    ['builds=some', 'use one of released, excluded, any'],
    ['cases=old', 'use one of open, closed, muted, any'],
    [`version=${'9'.repeat(200)}`, 'longer than 100'],
  ])('refuses %s and says what can be used', (address, reason) => {
    const result = parse(address);
    expect(result.ok ? '' : result.problem.message).toContain(reason);
  });

  it('reads as a sentence', () => {
    const result = parse('last=14d&kind=hang,crash&version=4.1.0%2B');
    if (!result.ok) throw new Error(result.problem.message);
    const { kinds, versions, days } = result.value;
    expect(`${wordKinds(kinds)} in ${wordVersions(versions)}, ${wordDays(days)}`).toBe(
      'Crashes and hangs in 4.1.0 and later, last 14 days',
    );
  });
});
