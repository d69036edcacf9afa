import { type EncodedRecord, recordOfReport, recordOfSession } from '@rough-ember/core/otlp/items-to-records';
import { type App, findAppById } from '@rough-ember/store/apps';
import {
  findForward,
  finishForwards,
  leaseForward,
  listDueForwards,
  postponeForward,
  type QueuedForward,
  readForwardQueue,
} from '@rough-ember/store/forwards';
import { SendProblem } from '../alerts/channels/channel-kind.ts';
import { type RepeatedWork, repeatWork } from '../repeat-work.ts';
import type { Services } from '../services.ts';
import { sendRecords } from './send-records.ts';

const everyMs = 1_000;
const atOnce = 200;
const leaseMs = 120_000;
const firstRestMs = 5_000;
const longestRestMs = 3_600_000;

type ForwardServices = Pick<Services, 'database' | 'serverKey' | 'publicUrl' | 'log'>;

/** Sends what waits to the receivers of apps, in any process, one at a time for each app. */
export function startForwarding(services: ForwardServices): RepeatedWork {
  return repeatWork(services.log, 'what is to be forwarded could not be', [
    { everyMs, work: async () => (await forwardDue(services, new Date())) > 0 },
  ]);
}

/** Forwards some of what waits for each app; gives how much. */
export async function forwardDue(services: ForwardServices, now: Date): Promise<number> {
  let forwarded = 0;
  for (const appId of await listDueForwards(services.database, now)) {
    if (!(await leaseForward(services.database, appId, { now, until: new Date(now.getTime() + leaseMs) }))) continue;
    forwarded += await forwardSome(services, appId, now);
  }
  return forwarded;
}

async function forwardSome({ database, serverKey, publicUrl }: ForwardServices, appId: number, now: Date): Promise<number> {
  const [forward, app] = [await findForward(database, appId), await findAppById(database, appId)];
  if (!forward || !app) return 0;
  const { address, headerName, headerValue, mayReachPrivate, attempts } = forward;
  const queued = await readForwardQueue(database, appId, atOnce);
  const ids = queued.map(({ id }) => id);
  const value = headerValue && serverKey.decrypt(headerValue);
  try {
    if (headerValue && value === null) throw new SendProblem('the secret was encrypted by another key of the server; give it again');
    const headers = headerName !== null && value !== null ? { [headerName]: value } : {};
    const records = queued.flatMap((one) => recordsOf(one, app, publicUrl));
    const { taken, refused, said } = await sendRecords({ address, headers, mayReachPrivate }, records);
    await finishForwards(database, appId, { ids, sent: taken, refused, problem: said, now: new Date() });
    return ids.length;
  } catch (error) {
    if (!(error instanceof SendProblem)) throw error;
    const rest = error.retryAfterSeconds === null ? Math.min(longestRestMs, firstRestMs * 2 ** attempts) : error.retryAfterSeconds * 1_000;
    await postponeForward(database, appId, { nextTryAt: new Date(now.getTime() + rest), problem: error.message });
    return 0;
  }
}

function recordsOf({ report, session }: QueuedForward, { slug, prefix }: App, publicUrl: string): EncodedRecord[] {
  if (session) {
    const record = recordOfSession(slug, session);
    return record === null ? [] : [record];
  }
  if (!report) return [];
  const caseRef = report.caseNumber === null ? null : `${prefix}-${report.caseNumber}`;
  const address = caseRef === null ? null : `${publicUrl}/apps/${slug}/cases/${caseRef}`;
  return [recordOfReport(slug, { ...report, caseRef, address })];
}
