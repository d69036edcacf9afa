import { renewPassword } from '@rough-ember/server/accounts/people';
import { ApiError } from '@rough-ember/server/errors';
import { onDataFolder } from './on-data-folder.ts';

/**
 * `npm run new-password [-- mail address]`: gives an account, the first owner's unless one is named, a new password, shows it once, and
 * ends its sign-ins. Whoever can run this has the database in hand anyway.
 */
export const main = ([email]: string[] = []): Promise<number> =>
  onDataFolder(async (settings, database) => {
    const whose = email ?? settings.ownerEmail;
    try {
      console.log(`Sign in as ${whose} with the password ${await renewPassword(database, whose)}\nIt is shown this once.`);
      return 0;
    } catch (error) {
      if (!(error instanceof ApiError)) throw error;
      console.error(error.message);
      return 1;
    }
  });
