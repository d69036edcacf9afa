import fc from 'fast-check';
import { expect, it } from 'vitest';
import { wholeScope } from '../scope/scope.ts';
import { countDaysOfUse } from './days-of-use.ts';
import { anySession, indexOf } from './testing/sessions.ts';

it('days of use are counted as one who follows each person does', () => {
  const drawn = fc.array(
    anySession.map((one) => ({ ...one, inferred: false })),
    { maxLength: 80 },
  );
  const span = { first: 100, last: 110 };
  fc.assert(
    fc.property(drawn, fc.nat(80), (sessions, settleAt) => {
      const [atRisk, met] = [Array<number>(30).fill(0), Array<number>(30).fill(0)];
      const inSpan = sessions.filter((one) => one.isKnown && one.day >= span.first && one.day <= span.last);
      for (const person of new Set(inSpan.map((one) => one.person))) {
        const own = inSpan.filter((one) => one.person === person);
        for (const [at, day] of [...new Set(own.map((one) => one.day))].sort((a, b) => a - b).entries()) {
          atRisk[at] = (atRisk[at] as number) + 1;
          if (!own.some((one) => one.day === day && one.end === 'crashed')) continue;
          met[at] = (met[at] as number) + 1;
          break;
        }
      }
      expect(countDaysOfUse(indexOf(sessions, settleAt), wholeScope, span)).toEqual({ atRisk, met });
    }),
  );
});
