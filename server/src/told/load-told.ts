import type { CaseState } from '@rough-ember/core/cases/case-status';
import type { Account } from '@rough-ember/store/accounts';
import type { Database } from '@rough-ember/store/database';
import { countUnread, listTold, markRead, type Told, type Whose } from '@rough-ember/store/told';
import { z } from 'zod';
import { appView, listAppsInReach } from '../accounts/reach.ts';

/** Which part of what somebody was told is asked for. */
export const toldQuerySchema = z.object({
  unread: z.enum(['0', '1']).default('0').describe('With 1 only what was not read yet.'),
  before: z.coerce.number().int().min(1).optional().describe('Only what came before the one of this number.'),
});

/** What is marked as read: some of it by number, or all up to a number, so that nothing is lost that came meanwhile. */
export const readSchema = z.union([
  z.object({ ids: z.array(z.int().min(1)).min(1).max(1_000) }).strict(),
  z.object({ upTo: z.int().min(1) }).strict(),
]);

/** Something that happened to a case, or what a rule tells, as the one it concerns is told. */
export interface ToldItem {
  readonly id: number;
  readonly at: string;
  readonly reason: Told['reason'];
  readonly isRead: boolean;
  readonly kind: string;
  /** Mail address of whoever did it; empty when a report did. */
  readonly actor: string;
  readonly detail: Readonly<Record<string, unknown>>;
  readonly app: { readonly slug: string; readonly name: string };
  readonly case: { readonly ref: string; readonly what: string; readonly where: string; readonly state: CaseState } | null;
  /** What a rule tells where it is about no case, and the page that shows it. */
  readonly told: { readonly headline: string; readonly path: string } | null;
}

export interface ToldList {
  readonly items: readonly ToldItem[];
  readonly unread: number;
  /** There is more before the last one. */
  readonly more: boolean;
  readonly now: string;
}

const shownItems = 50;

const whoseOf = (account: Account): Whose => ({ accountId: account.id, appIds: account.role === 'owner' ? null : account.appIds });

/** What somebody was told, the newest first. */
export async function loadTold(
  database: Database,
  { account, query, now }: { account: Account; query: z.infer<typeof toldQuerySchema>; now: Date },
): Promise<ToldList> {
  const whose = whoseOf(account);
  const [rows, unread, apps] = await Promise.all([
    listTold(database, whose, { before: query.before, unreadOnly: query.unread === '1', limit: shownItems + 1 }),
    countUnread(database, whose),
    listAppsInReach(database, account),
  ]);
  return {
    items: rows.slice(0, shownItems).flatMap(({ appId, readAt, at, case: of, told, ...row }) => {
      const app = apps.find(({ id }) => id === appId);
      if (!app) return [];
      const { slug, name } = appView(app);
      const { number, ...shown } = of ?? { number: 0 };
      return [
        {
          ...row,
          at: at.toISOString(),
          isRead: readAt !== null,
          app: { slug, name },
          case: of === null ? null : { ref: `${app.prefix}-${number}`, ...(shown as Omit<typeof of, 'number'>) },
          told: told === null ? null : { headline: told.headline, path: told.path },
        },
      ];
    }),
    unread,
    more: rows.length > shownItems,
    now: now.toISOString(),
  };
}

export const loadUnread = (database: Database, account: Account): Promise<number> => countUnread(database, whoseOf(account));

/** Marks what somebody was told as read; gives how much is left. */
export async function readTold(database: Database, account: Account, which: z.infer<typeof readSchema>, now: Date): Promise<number> {
  await markRead(database, account.id, which, now);
  return loadUnread(database, account);
}
