import { describe, expect, it } from 'vitest';
import { mentionsIn, whoIsTold } from './who-is-told.ts';

const ines = { id: 1, email: 'ines@larkfield.example', name: 'Ines Holm' };
const perdita = { id: 2, email: 'perdita.lark@larkfield.example', name: 'Perdita Lark' };
const odd = { id: 3, email: 'odd@larkfield.example', name: 'Odd Lark' };
const people = [ines, perdita, odd];

describe('the people that a text mentions', () => {
  it.each([
    ['@ines, look at this', [ines]],
    ['(@Ines) and @perdita.lark.', [ines, perdita]],
    ['cc @perdita', [perdita]],
    ['@odd@larkfield.example knows', [odd]],
    ['@Odd.Lark', [odd]],
    // Both are called so.
    ['@lark', [perdita, odd]],
    ['mail ines@larkfield.example', []],
    ['`@ines` and\n```\n@odd\n```\n@perdita', [perdita]],
    ['https://example.org/@ines', []],
    ['@nobody @', []],
    ['@inesa', []],
    ['@@ines', []],
    ['@ines @ines', [ines]],
  ])('%s', (text, expected) => expect(mentionsIn(text, people)).toEqual(expected));

  it('are found in any text within its length', () => {
    const long = '@a'.repeat(10_000) + '`'.repeat(5_000) + '@'.repeat(20_000);
    expect(mentionsIn(long, people)).toEqual([]);
  });
});

describe('who is told', () => {
  const nobody = { assignee: null, actors: [], followers: [] };
  const told = (happening: Partial<Parameters<typeof whoIsTold>[0]>, part: Parameters<typeof whoIsTold>[2] = nobody) =>
    Object.fromEntries(whoIsTold({ kind: 'note', actor: ines.email, detail: {}, ...happening }, people, part));

  it('is whoever a note mentions, and not who wrote it', () => {
    expect(told({ detail: { text: '@ines and @odd should look' } })).toEqual({ 3: 'mentioned' });
  });

  it('is whom a case is given to', () => {
    expect(told({ kind: 'assign', detail: { assignee: odd.email } })).toEqual({ 3: 'assigned' });
    expect(told({ kind: 'assign', actor: odd.email, detail: { assignee: odd.email } })).toEqual({});
  });

  it('is whoever follows it, for a better reason where there is one', () => {
    const part = { assignee: perdita.email, actors: [], followers: [1, 2, 3] };
    expect(told({ kind: 'close', detail: { version: '4.3.1' } }, part)).toEqual({ 2: 'takes-part', 3: 'follows' });
    expect(told({ kind: 'mute' }, part)).toEqual({});
  });

  it('is whoever takes part: looks after it, or did something to it', () => {
    const part = { assignee: perdita.email, actors: [ines.email, odd.email, 'deploy', ''], followers: [] };
    expect(told({ kind: 'close', detail: { version: '4.3.1' } }, part)).toEqual({ 2: 'takes-part', 3: 'takes-part' });
    expect(told({ kind: 'reopened', actor: '' }, part)).toEqual({ 1: 'takes-part', 2: 'takes-part', 3: 'takes-part' });
    expect(told({ detail: { text: 'thanks @perdita' } }, part)).toEqual({ 2: 'mentioned', 3: 'takes-part' });
  });

  it('is nobody for what is only put in order', () => {
    const part = { assignee: perdita.email, actors: [odd.email], followers: [] };
    for (const kind of ['mute', 'undo', 'merge', 'split', 'unmuted']) expect(told({ kind }, part)).toEqual({});
  });
});
