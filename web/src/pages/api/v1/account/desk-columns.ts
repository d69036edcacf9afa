import { deskColumnsSchema } from '@rough-ember/core/cases/desk-columns';
import { changeDeskColumns } from '@rough-ember/store/accounts';
import type { APIRoute } from 'astro';
import { z } from 'zod';
import { json, readJson, requireAccount } from '../../../../server-side';

/** What whoever asks wants to see of each case in a list. */
export const PUT: APIRoute = async (context) => {
  const account = requireAccount(context);
  const { columns } = await readJson(context, z.object({ columns: deskColumnsSchema }));
  await changeDeskColumns(context.locals.services.database, account.id, columns);
  return json({ columns });
};
