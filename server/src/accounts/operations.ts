import { deskColumnsSchema } from '@rough-ember/core/cases/desk-columns';
import { timeZoneSchema } from '@rough-ember/core/time-zone';
import { changeDeskColumns, changeZone, readDeskColumns } from '@rough-ember/store/accounts';
import { changeAppSetting } from '@rough-ember/store/app-settings';
import { schemaVersion } from '@rough-ember/store/migrate';
import { z } from 'zod';
import { operation, rowNumber } from '../operation/operation.ts';
import { serverVersion } from '../server-version.ts';
import { makeApp, newAppSchema } from './make-app.ts';
import {
  acceptanceSchema,
  acceptInvitation,
  accountChangeSchema,
  changePassword,
  invitationOf,
  invitationSchema,
  invite,
  judgedBy,
  loadPeople,
  passwordChangeSchema,
  setReach,
  setRole,
  signInsOf,
  signOutEverywhere,
  withdrawInvitation,
} from './people.ts';
import { appView, listAppsInReach } from './reach.ts';
import { signIn, signInSchema, signOut } from './sign-in.ts';

/** Who somebody is, and the apps that are there for them. */
export const accountOperations = [
  operation('POST /sign-in', {
    does: 'Signs in; the answer carries the cookie.',
    right: 'anybody',
    body: signInSchema,
    run: async ({ services, body, connection }) => {
      connection.changeSignIn(await signIn(services.database, body, connection.remoteAddress));
      return { signedIn: true };
    },
  }),
  operation('POST /sign-out', {
    does: 'Ends this sign-in.',
    right: 'person',
    run: async ({ services, connection }) => {
      if (connection.signInToken !== undefined) await signOut(services.database, connection.signInToken);
      connection.changeSignIn(null);
      return { signedOut: true };
    },
  }),
  operation('GET /account', {
    does: 'Who is signed in, on how many devices, and what they chose: columns of lists of cases, zone of times.',
    right: 'person',
    run: async ({ services: { database }, account }) => ({
      id: account.id,
      name: account.name,
      email: account.email,
      role: account.role,
      zone: account.zone,
      signIns: await signInsOf(database, account),
      columns: await readDeskColumns(database, account.id),
    }),
  }),
  operation('GET /server', {
    does: 'The version of this server, and the number of the last change of its schema.',
    right: 'anybody',
    run: async ({ services }) => ({ version: serverVersion, schema: await schemaVersion(services.database) }),
  }),
  operation('PUT /account/desk-columns', {
    does: 'Chooses what whoever asks sees of each case in a list.',
    right: 'person',
    body: z.object({ columns: deskColumnsSchema }),
    run: async ({ services, account, body: { columns } }) => {
      await changeDeskColumns(services.database, account.id, columns);
      return { columns };
    },
  }),
  operation('PUT /account/zone', {
    does: 'Chooses the time zone that whoever asks is shown times in; null for that of the browser.',
    right: 'person',
    body: z.object({ zone: timeZoneSchema.nullable() }),
    run: async ({ services, account, body: { zone } }) => {
      await changeZone(services.database, account.id, zone);
      return { zone };
    },
  }),
  operation('POST /account/password', {
    does: 'Changes the password of whoever asks; every other sign-in of theirs ends.',
    right: 'person',
    body: passwordChangeSchema,
    run: async ({ services: { database, workers }, account, body, connection }) => {
      const signInToken = connection.signInToken ?? '';
      await changePassword(database, judgedBy(workers), account, { ...body, signInToken, from: connection.remoteAddress });
      return { changed: true };
    },
  }),
  operation('DELETE /account/sign-ins', {
    does: 'Signs whoever asks out on every device, this one too.',
    right: 'person',
    run: async ({ services, account, connection }) => {
      const ended = await signOutEverywhere(services.database, account);
      connection.changeSignIn(null);
      return { ended };
    },
  }),
  operation('GET /apps', {
    does: 'The apps that whoever asks may see, the first one made first.',
    right: 'person',
    run: async ({ services, account }) =>
      (await listAppsInReach(services.database, account)).sort((one, other) => one.id - other.id).map(appView),
  }),
  operation('POST /apps', {
    does: 'Makes an app.',
    right: 'owner',
    body: newAppSchema,
    status: 201,
    run: async ({ services, body }) => ({ slug: (await makeApp(services.database, body)).slug }),
  }),
  operation('GET /apps/{app}', {
    does: 'What an app is called, which packages are its own, and the time zone of its walls.',
    right: 'upload',
    run: ({ app }) => ({ ...appView(app), ourPackages: app.ourPackages, zone: app.zone }),
  }),
  operation('PUT /apps/{app}/zone', {
    does: 'Chooses the time zone of what everybody sees of an app alike, such as walls; null for UTC.',
    right: 'developer',
    body: z.object({ zone: timeZoneSchema.nullable() }),
    run: async ({ services, app, by, body: { zone } }) => {
      await changeAppSetting(services.database, { appId: app.id, setting: 'zone', value: zone, by });
      return { zone };
    },
  }),
] as const;

/** The people of this server. */
export const peopleOperations = [
  operation('GET /people', {
    does: 'Everybody with an account, and the invitations that are open.',
    right: 'owner',
    run: ({ services }) => loadPeople(services.database),
  }),
  operation('POST /people', {
    does: 'Invites somebody; the link in the answer is shown once.',
    right: 'owner',
    body: invitationSchema,
    status: 201,
    run: async ({ services: { database, publicUrl }, account, body }) => ({
      link: await invite(database, { ...body, invitedBy: account.email, publicUrl }),
    }),
  }),
  operation('PUT /people/{id}', {
    does: 'Changes the role of somebody, or which apps they see.',
    right: 'owner',
    body: accountChangeSchema,
    run: async ({ services: { database }, path, body: { role, apps } }) => {
      if (role !== undefined) await setRole(database, rowNumber(path.id), role);
      if (apps !== undefined) await setReach(database, rowNumber(path.id), apps);
      return { role, apps };
    },
  }),
  operation('DELETE /people/{id}', {
    does: 'Takes an account away; whoever it was is signed out everywhere.',
    right: 'owner',
    run: async ({ services, path }) => {
      await setRole(services.database, rowNumber(path.id), null);
      return { removed: true };
    },
  }),
  operation('DELETE /invitations/{id}', {
    does: 'Withdraws an invitation.',
    right: 'owner',
    run: async ({ services, path }) => {
      await withdrawInvitation(services.database, rowNumber(path.id));
      return { withdrawn: true };
    },
  }),
  operation('GET /invitation', {
    does: 'Whom an invitation is for; null when it was used, withdrawn, or is too old.',
    right: 'anybody',
    parameters: z.object({ token: z.string().max(200).describe('The secret of its link.') }),
    run: async ({ services, parameters }) => {
      const found = await invitationOf(services.database, parameters.token);
      return found && { email: found.email, role: found.role, invitedBy: found.invitedBy };
    },
  }),
  operation('POST /join', {
    does: 'Makes the account of an invitation and signs it in; the answer carries the cookie.',
    right: 'anybody',
    body: acceptanceSchema,
    status: 201,
    run: async ({ services: { database, workers }, body, connection }) => {
      connection.changeSignIn(await acceptInvitation(database, judgedBy(workers), body));
      return { signedIn: true };
    },
  }),
] as const;
