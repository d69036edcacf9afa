import { setTimeout as pause } from 'node:timers/promises';
import { countTry, takeTryBack } from '@rough-ember/store/accounts';
import type { Database } from '@rough-ember/store/database';
import { ApiError } from '../errors.ts';
import { hashSecret } from './secrets.ts';

/** Of one account from one place, and of all accounts from one place, which many people may share. */
const triesAllowed = { lane: 10, from: 100 };
const windowMinutes = 5;
/** From so many tries at one account on, wherever they come from, each waits a little longer. */
const quickTries = 20;
const waitMs = 250;
const longestWaitMs = 4_000;

/**
 * Runs a try to prove who one is, after it was counted: however many are made at once, no more than are allowed get to see whether
 * they were right. Somebody else's guesses slow an account down and never lock its owner out, who comes from another place.
 * `who` names the account, however its address was spelt; `from` the network address. Gives null when the try was wrong.
 */
export async function tryOnce<Value>(
  database: Database,
  { who, from }: { readonly who: string; readonly from: string },
  run: () => Promise<Value | null>,
): Promise<Value | null> {
  const subjects = { lane: hashSecret(`lane ${who} ${from}`), from: hashSecret(`from ${from}`), account: hashSecret(`account ${who}`) };
  const minute = Math.floor(Date.now() / 60_000);
  const tries = {
    lane: await countTry(database, subjects.lane, minute, windowMinutes),
    from: await countTry(database, subjects.from, minute, windowMinutes),
    account: await countTry(database, subjects.account, minute, windowMinutes),
  };
  if (tries.lane > triesAllowed.lane) throw new ApiError('too-many-attempts', 'Too many sign-ins failed with this address.');
  if (tries.from > triesAllowed.from) throw new ApiError('too-many-attempts', 'Too many sign-ins failed from your place.');
  if (tries.account > quickTries) await pause(Math.min(longestWaitMs, (tries.account - quickTries) * waitMs));
  const value = await run();
  if (value !== null) await takeTryBack(database, Object.values(subjects), minute);
  return value;
}
