import { type Database, inTransaction } from './database.ts';

/** Whoever comes back sooner than this still looks at the same news. */
const sameLookMinutes = 30;

/**
 * Notes that somebody looks at an app, and gives when they looked the time before; null at the first time. What changed since
 * then stays told while they come and go within half an hour.
 */
export async function noteLook(
  database: Database,
  { accountId, appId, now }: { accountId: number; appId: number; now: Date },
): Promise<Date | null> {
  return inTransaction(database, async (transaction) => {
    const own = { account_id: accountId, app_id: appId };
    const known: { lookedAt: Date; before: Date | null } | undefined = await transaction('looks')
      .where(own)
      .forUpdate()
      .first({ lookedAt: 'looked_at', before: 'looked_before' });
    if (!known) {
      await transaction('looks')
        .insert({ ...own, looked_at: now, looked_before: null })
        .onConflict(['account_id', 'app_id'])
        .merge(['looked_at']);
      return null;
    }
    const isSameLook = now.getTime() - known.lookedAt.getTime() < sameLookMinutes * 60_000;
    const before = isSameLook ? known.before : known.lookedAt;
    await transaction('looks').where(own).update({ looked_at: now, looked_before: before });
    return before;
  });
}
