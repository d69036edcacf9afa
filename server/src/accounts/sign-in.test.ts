import type { Database } from '@rough-ember/store/database';
import { freshDatabase } from '@rough-ember/store/testing/fresh-database';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { requireSameOrigin } from './origin.ts';
import { createOwner, requireRole, signedInAccount, signIn, signOut } from './sign-in.ts';

let database: Database;
let remove: () => Promise<void>;
let password: string;
const email = 'ines@larkfield.example';
beforeAll(async () => {
  ({ database, remove } = await freshDatabase());
  password = (await createOwner(database, { email, name: 'Ines' })) as string;
});
afterAll(() => remove());

describe('signing in', () => {
  it('makes the owner once, with a password nobody else has', async () => {
    expect(password.length).toBeGreaterThanOrEqual(12);
    expect(await createOwner(database, { email: 'someone@larkfield.example', name: 'Someone' })).toBeNull();
  });

  it('gives a token that stands for the account until it is signed out', async () => {
    const token = await signIn(database, { email: ` ${email.toUpperCase()}`, password });
    expect(await signedInAccount(database, token)).toMatchObject({ email, role: 'owner' });
    await signOut(database, token);
    expect(await signedInAccount(database, token)).toBeNull();
  });

  it('keeps neither the password nor the token', async () => {
    const token = await signIn(database, { email, password });
    const kept = JSON.stringify([await database('accounts'), await database('sign_ins')]);
    expect(kept).not.toContain(password);
    expect(kept).not.toContain(token);
  });

  it('ends by itself', async () => {
    const token = await signIn(database, { email, password });
    await database('sign_ins').update({ expires_at: new Date(Date.now() - 1000) });
    expect(await signedInAccount(database, token)).toBeNull();
  });

  it('refuses a wrong password and an unknown address alike', async () => {
    const wrong = await signIn(database, { email, password: 'x' }).catch((error) => error.message);
    const unknown = await signIn(database, { email: 'nobody@larkfield.example', password: 'x' }).catch((error) => error.message);
    expect(wrong).toBe(unknown);
  });

  it('slows down guessing', async () => {
    const guess = () => signIn(database, { email: 'tomas@larkfield.example', password: 'x' }).catch((error) => error.code);
    const answers = [];
    for (let attempt = 0; attempt < 12; attempt++) answers.push(await guess());
    expect(answers.at(0)).toBe('wrong-sign-in');
    expect(answers.at(-1)).toBe('too-many-attempts');
  });
});

describe('guessing', () => {
  const guess = (address: string, from: string, given = 'x') =>
    signIn(database, { email: address, password: given }, from).then(
      () => 'signed in',
      (error) => error.code as string,
    );

  it('of eighty at once gets no more tries than one after the other', async () => {
    const answers = await Promise.all(Array.from({ length: 80 }, () => guess('many@larkfield.example', '192.0.2.80')));
    expect(answers.filter((one) => one === 'wrong-sign-in').length).toBeLessThanOrEqual(10);
    expect(answers.filter((one) => one === 'too-many-attempts').length).toBeGreaterThanOrEqual(70);
  });

  it('counts for one account, however its address is spelt', async () => {
    const spellings = [
      email,
      email.toUpperCase(),
      'ínes@larkfield.example',
      'ｉnes@larkfield.example',
      'i\u200bnes@larkfield.example',
      ` ${email} `,
    ];
    const answers = [];
    for (let at = 0; at < 14; at++) answers.push(await guess(spellings[at % spellings.length] as string, '192.0.2.81'));
    expect(answers.filter((one) => one === 'wrong-sign-in')).toHaveLength(10);
  });

  it('by somebody else locks nobody out who comes from another place', async () => {
    for (let at = 0; at < 12; at++) await guess(email, '192.0.2.82');
    expect(await guess(email, '192.0.2.82', password)).toBe('too-many-attempts');
    expect(await guess(email, '192.0.2.83', password)).toBe('signed in');
  });
});

describe('rights', () => {
  it('grow with the role', () => {
    const viewer = { id: 1, email, name: 'V', role: 'viewer' } as const;
    expect(() => requireRole(viewer, 'viewer')).not.toThrow();
    expect(() => requireRole(viewer, 'developer')).toThrow('takes the role developer');
    expect(() => requireRole({ ...viewer, role: 'owner' }, 'developer')).not.toThrow();
  });

  it.each([
    ['http://127.0.0.1:4310', '127.0.0.1:4310', true],
    ['https://ember.example', '127.0.0.1:4310', true],
    ['https://elsewhere.example', '127.0.0.1:4310', false],
    ['null', '127.0.0.1:4310', false],
    [undefined, '127.0.0.1:4310', false],
  ])('of a page from %s at %s: %s', (origin, host, allowed) => {
    const check = () => requireSameOrigin({ origin, host, publicUrl: 'https://ember.example' });
    if (allowed) expect(check).not.toThrow();
    else expect(check).toThrow('not from this server');
  });
});
