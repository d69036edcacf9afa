import { type Account, type AccountRole, findAccountByEmail } from '@rough-ember/store/accounts';
import { useToken } from '@rough-ember/store/credentials';
import type { Database } from '@rough-ember/store/database';
import { freshDatabase, makeApp } from '@rough-ember/store/testing/fresh-database';
import { createWallLink, useWallLink } from '@rough-ember/store/wall-links';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { issueToken } from './issue-credentials.ts';
import { passwordProblem } from './password-problem.ts';
import {
  acceptanceSchema,
  acceptInvitation,
  changePassword,
  invitationOf,
  invitationSchema,
  invite,
  loadPeople,
  type PeopleView,
  passwordChangeSchema,
  setReach,
  setRole,
  signInsOf,
  signOutEverywhere,
  withdrawInvitation,
} from './people.ts';
import { listAppsInReach, reaches } from './reach.ts';
import { hashSecret } from './secrets.ts';
import { createOwner, signedInAccount, signIn } from './sign-in.ts';

let database: Database;
let remove: () => Promise<void>;
beforeAll(async () => {
  ({ database, remove } = await freshDatabase());
  await createOwner(database, { email: 'ines@larkfield.example', name: 'Ines' });
});
afterAll(() => remove());

const password = 'a wren and an owl';
const tokenIn = (link: string) => new URL(link).searchParams.get('token') as string;
const inviting = (email: string, role: AccountRole = 'viewer') =>
  invite(database, { email, role, apps: null, invitedBy: 'ines@larkfield.example', publicUrl: 'https://ember.example' });
const join = (link: string, name = 'Tomas') => acceptInvitation(database, passwordProblem, { token: tokenIn(link), name, password });
const accountOf = async (email: string) =>
  (await loadPeople(database)).accounts.find((one) => one.email === email) as PeopleView['accounts'][number];

describe('an invitation', () => {
  it('is a link that makes an account of its role, once', async () => {
    const link = await inviting('tomas@larkfield.example', 'developer');
    expect(link).toMatch(/^https:\/\/ember\.example\/join\?token=join_/);
    expect(await invitationOf(database, tokenIn(link))).toMatchObject({ email: 'tomas@larkfield.example', role: 'developer' });
    const { invitations } = await loadPeople(database);
    expect(invitations).toMatchObject([{ email: 'tomas@larkfield.example', invitedBy: 'ines@larkfield.example' }]);
    expect(Date.parse(invitations[0]?.expiresAt ?? '') - Date.now()).toBeGreaterThan(6 * 86_400_000);

    expect(await signedInAccount(database, await join(link))).toMatchObject({
      email: 'tomas@larkfield.example',
      name: 'Tomas',
      role: 'developer',
    });
    expect((await loadPeople(database)).invitations).toEqual([]);
    await expect(join(link)).rejects.toMatchObject({ code: 'invitation-gone' });
  });

  it('keeps no secret that could be read from the database', async () => {
    const link = await inviting('nadia@larkfield.example');
    expect(JSON.stringify(await database('invitations'))).not.toContain(tokenIn(link));
  });

  it('is accepted by one of two who try at the same time', async () => {
    const link = await inviting('pair@larkfield.example');
    const outcomes = await Promise.allSettled([join(link), join(link)]);
    expect(outcomes.filter(({ status }) => status === 'fulfilled')).toHaveLength(1);
    expect(outcomes.find(({ status }) => status === 'rejected')).toMatchObject({ reason: { code: 'invitation-gone' } });
  });

  it('takes the place of an earlier one of the same address', async () => {
    const first = await inviting('runa@larkfield.example', 'viewer');
    const second = await inviting('runa@larkfield.example', 'owner');
    expect(await invitationOf(database, tokenIn(first))).toBeNull();
    expect(await invitationOf(database, tokenIn(second))).toMatchObject({ role: 'owner' });
  });

  it('ends when it is withdrawn, and after a week', async () => {
    const link = await inviting('olek@larkfield.example');
    const invitation = await invitationOf(database, tokenIn(link));
    await withdrawInvitation(database, invitation?.id as number);
    await expect(join(link)).rejects.toMatchObject({ code: 'invitation-gone' });
    await expect(withdrawInvitation(database, invitation?.id as number)).rejects.toMatchObject({ code: 'not-found' });

    const late = await inviting('late@larkfield.example');
    await database('invitations')
      .where({ email: 'late@larkfield.example' })
      .update({ expires_at: new Date(Date.now() - 1_000) });
    expect((await loadPeople(database)).invitations.map((one) => one.email)).not.toContain('late@larkfield.example');
    await expect(join(late)).rejects.toMatchObject({ code: 'invitation-gone' });
  });

  it('is not for somebody who has an account', async () => {
    await expect(inviting('tomas@larkfield.example')).rejects.toMatchObject({ code: 'account-exists' });
  });

  it.each([
    [invitationSchema, { email: 'nobody', role: 'viewer' }, 'is no mail address'],
    [invitationSchema, { email: 'a@larkfield.example', role: 'king' }, /Invalid option/],
    [acceptanceSchema, { token: 't', name: 'T', password: 'short' }, 'takes at least 12 characters'],
    [acceptanceSchema, { token: 't', name: ' ', password }, /Too small/],
    [passwordChangeSchema, { password, newPassword: 'eleven char' }, 'takes at least 12 characters'],
  ])('of wrong form is refused: %#', (schema, value, message) => {
    expect(schema.safeParse(value).error?.issues[0]?.message).toMatch(message);
  });

  it('is for an address in small letters', () => {
    expect(invitationSchema.parse({ email: 'Tomas@Larkfield.Example', role: 'viewer' }).email).toBe('tomas@larkfield.example');
  });
});

describe('roles', () => {
  it('are changed and taken away, with every sign-in', async () => {
    const token = await join(await inviting('brisa@larkfield.example'), 'Brisa');
    const { id } = await accountOf('brisa@larkfield.example');
    await setRole(database, id, 'developer');
    expect(await signedInAccount(database, token)).toMatchObject({ role: 'developer' });
    await setRole(database, id, null);
    expect(await signedInAccount(database, token)).toBeNull();
    await expect(setRole(database, id, 'viewer')).rejects.toMatchObject({ code: 'not-found' });
  });

  it('leave an owner, whoever asks at the same time', async () => {
    await join(await inviting('second@larkfield.example', 'owner'), 'Second');
    const [ines, second] = [await accountOf('ines@larkfield.example'), await accountOf('second@larkfield.example')];
    const outcomes = await Promise.allSettled([setRole(database, ines.id, 'viewer'), setRole(database, second.id, null)]);
    expect(outcomes.filter(({ status }) => status === 'rejected')).toMatchObject([{ reason: { code: 'last-owner' } }]);
    expect((await loadPeople(database)).accounts.filter((one) => one.role === 'owner')).toHaveLength(1);
    await setRole(database, ines.id, 'owner');
  });

  it('are listed with the owners first', async () => {
    const roles = (await loadPeople(database)).accounts.map((one) => one.role);
    expect(roles).toEqual(
      [...roles].sort((a, b) => ['owner', 'developer', 'viewer'].indexOf(a) - ['owner', 'developer', 'viewer'].indexOf(b)),
    );
  });
});

describe('a password', () => {
  it('is changed by who knows the present one, which ends all other sign-ins', async () => {
    const email = 'tomas@larkfield.example';
    const [own, other] = [await signIn(database, { email, password }), await signIn(database, { email, password })];
    const account = (await signedInAccount(database, own)) as Account;
    const change = (present: string) =>
      changePassword(database, passwordProblem, account, {
        password: present,
        newPassword: 'two owls and a wren',
        signInToken: own,
        from: '192.0.2.1',
      });
    await expect(change('not this one')).rejects.toMatchObject({ code: 'wrong-password' });
    expect(await signedInAccount(database, other)).not.toBeNull();
    await change(password);
    expect([await signedInAccount(database, own), await signedInAccount(database, other)]).toEqual([account, null]);
    await expect(signIn(database, { email, password })).rejects.toMatchObject({ code: 'wrong-sign-in' });
    await signIn(database, { email, password: 'two owls and a wren' });
    expect(await signInsOf(database, account)).toBe(2);
    expect(await signOutEverywhere(database, account)).toBe(2);
    expect(await signedInAccount(database, own)).toBeNull();
  });
});

describe('whoever goes', () => {
  it('takes what came from them along: invitations, tokens, links of walls', async () => {
    const email = 'astrid@larkfield.example';
    const link = await inviting(email, 'owner');
    await join(link, 'Astrid');
    const account = await accountOf(email);
    const app = await makeApp(database);
    const invited = await invite(database, {
      email: 'guest@larkfield.example',
      role: 'viewer',
      apps: null,
      invitedBy: email,
      publicUrl: 'https://ember.example',
    });
    const token = await issueToken(database, { appId: app.id, name: 'ci', scope: 'read', madeBy: email });
    await createWallLink(database, { name: 'hall', secretHash: hashSecret('wall'), appIds: null, madeBy: email });
    const others = await issueToken(database, { appId: app.id, name: 'other', scope: 'read', madeBy: 'ines@larkfield.example' });
    await setRole(database, account.id, 'developer');
    expect(await invitationOf(database, tokenIn(invited))).toBeNull();
    expect((await useToken(database, hashSecret(token)))?.revokedAt).toBeNull();
    await setRole(database, account.id, null);
    expect((await useToken(database, hashSecret(token)))?.revokedAt).not.toBeNull();
    expect((await useToken(database, hashSecret(others)))?.revokedAt).toBeNull();
    expect(await useWallLink(database, hashSecret('wall'), new Date())).toBeNull();
  });
});

describe('somebody who sees some apps', () => {
  const email = 'lena@larkfield.example';

  it('is invited to those alone, and sees none that is made later', async () => {
    const [seen, unseen] = [await makeApp(database), await makeApp(database)];
    const invited = { email, role: 'developer' as const, invitedBy: 'ines@larkfield.example', publicUrl: 'https://ember.example' };
    await expect(invite(database, { ...invited, apps: ['nowhere'] })).rejects.toThrow(/no app "nowhere"/);
    await join(await invite(database, { ...invited, apps: [seen.slug] }), 'Lena');
    expect(await accountOf(email)).toMatchObject({ apps: [seen.slug] });
    const account = (await findAccountByEmail(database, email)) as Account;
    expect((await listAppsInReach(database, account)).map(({ id }) => id)).toEqual([seen.id]);
    await makeApp(database);
    expect(await listAppsInReach(database, account)).toHaveLength(1);
    expect(reaches(account, unseen.id)).toBe(false);
    // Owners run the server.
    expect(reaches({ ...account, role: 'owner' }, unseen.id)).toBe(true);
  });

  it('loses with an app the tokens and links that came from them', async () => {
    const app = await makeApp(database);
    const { id } = await accountOf(email);
    await setReach(database, id, [app.slug]);
    const token = await issueToken(database, { appId: app.id, name: 'ci', scope: 'write', madeBy: email });
    const secretHash = Buffer.alloc(32, 7);
    await createWallLink(database, { name: 'Hall', secretHash, appIds: [app.id], madeBy: email });
    await setReach(database, id, [app.slug]);
    expect((await useToken(database, hashSecret(token)))?.revokedAt).toBeNull();
    expect(await useWallLink(database, secretHash, new Date())).not.toBeNull();
    await setReach(database, id, []);
    expect((await useToken(database, hashSecret(token)))?.revokedAt).not.toBeNull();
    expect(await useWallLink(database, secretHash, new Date())).toBeNull();
    await setReach(database, id, null);
    expect(await accountOf(email)).toMatchObject({ apps: null });
    await expect(setReach(database, 999_999, null)).rejects.toMatchObject({ code: 'not-found' });
  });

  it('who is an owner no more keeps nothing that they made for an app beyond their limit', async () => {
    const [seen, unseen] = [await makeApp(database), await makeApp(database)];
    const { id } = await accountOf(email);
    await setReach(database, id, [seen.slug]);
    await setRole(database, id, 'owner');
    const tokens = await Promise.all(
      [seen, unseen].map((app) => issueToken(database, { appId: app.id, name: 'ci', scope: 'write', madeBy: email })),
    );
    await setRole(database, id, 'developer');
    const revoked = await Promise.all(tokens.map(async (token) => (await useToken(database, hashSecret(token)))?.revokedAt !== null));
    expect(revoked).toEqual([false, true]);
  });
});
