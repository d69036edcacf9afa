import { putRight, type StandIn } from '@rough-ember/core/report/mend/put-right';
import { Remarks } from '@rough-ember/core/report/mend/remarks';
import { z } from 'zod';
import { ApiError, type ErrorCode } from '../errors.ts';
import type { Services } from '../services.ts';
import { toApiError } from '../to-api-error.ts';
import { countItemLines } from './count-lines.ts';
import { intakeLimits } from './intake-limits.ts';
import { idOf, wordIssues } from './parse-batch.ts';
import { fileParametersSchema } from './read-crash-file.ts';
import { type IntakeSender, limitRate, type Received, takeBatch, takeOtlp } from './take.ts';

/** What a worker thread answers with: errors lose their kind on the way between threads. */
export type Taken =
  | { readonly ok: true; readonly received: Received }
  | { readonly ok: false; readonly code: ErrorCode; readonly message: string; readonly detail: Readonly<Record<string, unknown>> };

/** The outcome of taking something, a refusal included; what is nobody's fault but ours goes on as an exception. */
export async function settled(taking: Promise<Received>): Promise<Taken> {
  try {
    return { ok: true, received: await taking };
  } catch (error) {
    const { code, message, detail } = toApiError(error);
    if (code === 'internal') throw error;
    return { ok: false, code, message, detail };
  }
}

/** An app's own patterns run in linear time, but some of them slowly. */
const isHeavy = (body: Buffer, { scrub }: IntakeSender): boolean => body.length > intakeLimits.smallBytes || scrub.patterns.length > 0;

/** Takes the items of a batch; when this returns, what it calls accepted is committed. */
export async function receiveBatch(services: Services, sender: IntakeSender, body: Buffer): Promise<Received> {
  const { items, isTooMuch } = countItemLines(body);
  if (isTooMuch)
    throw new ApiError('too-many-lines', `The batch has more than ${intakeLimits.items} items, or more than ${intakeLimits.lines} lines.`);
  if (items === 0) throw new ApiError('bad-request', 'The body is empty; one JSON item is expected on each line.');
  await limitRate(services.database, sender, items);
  return finish(
    services,
    isHeavy(body, sender) ? services.workers.run('takeBatch', sender, body) : settled(takeBatch(services.database, sender, body)),
  );
}

/** Takes the records of an OTLP request. */
export async function receiveOtlp(
  services: Services,
  sender: IntakeSender,
  { body, encoding }: { body: Buffer; encoding: 'json' | 'protobuf' },
): Promise<Received> {
  return finish(
    services,
    isHeavy(body, sender)
      ? services.workers.run('takeOtlp', sender, body, encoding)
      : settled(takeOtlp(services.database, sender, body, encoding)),
  );
}

/** Takes a crash file; each report in it is kept, the file itself beside the first of them. */
export async function receiveFile(
  services: Services,
  sender: IntakeSender,
  { body, parameters }: { body: Buffer; parameters: Readonly<Record<string, string>> },
): Promise<Received> {
  const remarks = new Remarks();
  // A parameter that is mistyped costs itself and no report.
  const read = putRight(z.strictObject(fileParametersSchema.shape), { ...parameters }, { standIn: idsOfOtherForms, remarks });
  if (!read.ok) throw new ApiError('bad-request', `The address parameters cannot be used: ${wordIssues(read.error)}.`);
  const told = remarks.list().map((remark) => `address parameter ${remark}`);
  return finish(services, services.workers.run('takeFile', sender, { bytes: body, parameters: read.value, remarks: told }));
}

const uuidParameters: ReadonlySet<unknown> = new Set(['id', 'installationId', 'sessionId']);
const idsOfOtherForms: StandIn = ([name], given) =>
  uuidParameters.has(name) && typeof given === 'string' ? { value: idOf(given), words: 'is no UUID; one was made of it' } : undefined;

async function finish(services: Services, taking: Promise<Taken>): Promise<Received> {
  const taken = await taking;
  if (!taken.ok) throw new ApiError(taken.code, taken.message, taken.detail);
  if (taken.received.reportId !== null) services.jobs.wake();
  return taken.received;
}
