import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { z } from 'zod';
import { caseStatusForm, reportForm } from './stored-forms.ts';
import { readStored, type StoredForm, StoredJsonProblem, writeStored } from './stored-json.ts';

const first: StoredForm<{ name: string }> = { column: 'birds.rings', upgrades: [], schema: z.object({ name: z.string() }) };
const third: StoredForm<{ names: string[] }> = {
  column: 'birds.rings',
  upgrades: [(value) => ({ alias: (value as { name: string }).name }), (value) => ({ names: [(value as { alias: string }).alias] })],
  schema: z.object({ names: z.array(z.string()) }),
};

describe('JSON of a column', () => {
  it('is read as it was written, in the first version of its form and in later ones', () =>
    fc.assert(
      fc.property(fc.string(), (name) => {
        expect(readStored(first, writeStored(first, { name }))).toEqual({ name });
        expect(readStored(third, writeStored(third, { names: [name] }))).toEqual({ names: [name] });
      }),
    ));

  it('of an earlier version is brought up to the one of today, as text or parsed', () => {
    expect(readStored(third, '{"name":"Ruff"}')).toEqual({ names: ['Ruff'] });
    expect(readStored(third, { storedVersion: 2, value: { alias: 'Ruff' } })).toEqual({ names: ['Ruff'] });
  });

  it.each([
    ['of a newer version', '{"storedVersion":2,"value":{}}', /newer one wrote it, in version 2/],
    ['cut off', '{"name":"Ru', /birds\.rings holds .* no JSON/],
    ['of something else', '{"name":7}', /name/],
    ['that is null', 'null', /expected object/],
  ])('%s is told by its column', (_, text, reason) => expect(() => readStored(first, text)).toThrow(reason));

  it('of any kind is read or refused with a reason, never otherwise', () =>
    fc.assert(
      fc.property(fc.oneof(fc.json(), fc.string()), (text) => {
        for (const form of [first, reportForm, caseStatusForm])
          try {
            readStored<unknown>(form, text);
          } catch (error) {
            expect(error).toBeInstanceOf(StoredJsonProblem);
          }
      }),
    ));
});
