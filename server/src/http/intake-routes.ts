import type { IncomingMessage, ServerResponse } from 'node:http';
import { encodePartialSuccess, encodeStatus, type PartialSuccess, partialSuccessJson, rpcCode } from '@rough-ember/core/otlp/answers';
import { itemSchema } from '@rough-ember/core/report/item';
import { defaultScrubRules, Scrubber } from '@rough-ember/core/report/scrub';
import { readScrubRules } from '@rough-ember/store/apps';
import { noteKeyUse } from '@rough-ember/store/credentials';
import { type IntakeEntry, writeIntakeLog } from '@rough-ember/store/intake-log';
import type { IntakeOutcome } from '@rough-ember/store/intake-outcomes';
import { z } from 'zod';
import { ApiError, errorList } from '../errors.ts';
import { authoriseIntake } from '../intake/authorise-intake.ts';
import { fileParametersSchema } from '../intake/read-crash-file.ts';
import { receiveBatch, receiveFile, receiveOtlp } from '../intake/receive.ts';
import { type IntakeSender, type ItemOutcome, limitRate, type Received } from '../intake/take.ts';
import { madeOnce } from '../made-once.ts';
import type { Services } from '../services.ts';
import { toApiError } from '../to-api-error.ts';
import { LargePlace } from './large-bodies.ts';
import { parametersOf, type RawDescription, type RawRoute, rawRoute, sendJson } from './raw-route.ts';
import { readBody } from './read-body.ts';

/** What fits as it is; a sender whose item does not fit is told what was changed of it. So further fields are no error. */
const itemJsonSchema = madeOnce((): object =>
  z.toJSONSchema(itemSchema, {
    io: 'input',
    target: 'draft-2020-12',
    override: ({ jsonSchema }) => {
      if (jsonSchema.additionalProperties === false) delete jsonSchema.additionalProperties;
    },
  }),
);

/** One way in: how a request is taken, and how it is answered. */
interface Entrance {
  /** For the log when a request was refused before it was read. */
  readonly name: string;
  take(services: Services, sender: IntakeSender, request: IncomingMessage, body: () => Promise<Buffer>): Promise<Received>;
  answer(response: ServerResponse, received: Received, request: IncomingMessage): void;
  answerError(response: ServerResponse, error: ApiError, request: IncomingMessage): void;
}

const shownItem = ({ line, id, outcome, reason, remarks }: ItemOutcome) => ({
  line,
  id,
  outcome,
  ...(reason === null ? {} : { reason }),
  ...(remarks.length === 0 ? {} : { remarks }),
});

/** Our own protocol: what became of each line; 400 when one was refused. */
const plainAnswers: Pick<Entrance, 'answer' | 'answerError'> = {
  answer: (response, { items }) => {
    const shown = items.map(shownItem);
    const refused = items.find((item) => item.outcome === 'refused');
    if (!refused) return sendJson(response, 202, { items: shown });
    const error = new ApiError('bad-body', refused.reason ?? 'A line was refused.', { items: shown });
    sendJson(response, error.status, error);
  },
  answerError: (response, error) => sendJson(response, error.status, error),
};

const batch: Entrance = {
  ...plainAnswers,
  name: 'batch',
  take: async (services, sender, _request, body) => receiveBatch(services, sender, await body()),
};

const file: Entrance = {
  ...plainAnswers,
  name: 'crash file',
  take: async (services, sender, request, body) => receiveFile(services, sender, { body: await body(), parameters: parametersOf(request) }),
};

/** OTLP/HTTP, "OpenTelemetry Protocol Specification": 200 with a partial success, errors as google.rpc.Status in the same encoding. */
const otlp: Entrance = {
  name: 'OTLP logs',
  take: async (services, sender, request, body) => {
    const encoding = otlpEncoding(request);
    if (encoding === null)
      throw new ApiError(
        'unsupported-type',
        `The content type "${String(request.headers['content-type']).slice(0, 60)}" is neither application/json nor application/x-protobuf.`,
      );
    return receiveOtlp(services, sender, { body: await body(), encoding });
  },
  answer: (response, { items }, request) => {
    const rejected = items.filter((item) => item.outcome === 'refused');
    const remark = items.find((item) => item.remarks.length > 0)?.remarks[0];
    // A warning is a partial success that rejects nothing ("OpenTelemetry Protocol Specification", Partial Success).
    const partial: PartialSuccess | null =
      rejected.length > 0
        ? { rejectedLogRecords: countOf(rejected), errorMessage: rejected[0]?.reason ?? '' }
        : remark === undefined
          ? null
          : { rejectedLogRecords: 0, errorMessage: remark };
    if (otlpEncoding(request) === 'json') sendJson(response, 200, partialSuccessJson(partial));
    else sendProtobuf(response, 200, encodePartialSuccess(partial));
  },
  answerError: (response, error, request) => {
    const status = { code: rpcCode(error.status), message: `${error.message} ${errorList[error.code].remedy}` };
    if (otlpEncoding(request) === 'protobuf') sendProtobuf(response, error.status, encodeStatus(status));
    else sendJson(response, error.status, status);
  },
};

function otlpEncoding(request: IncomingMessage): 'json' | 'protobuf' | null {
  const type = String(request.headers['content-type'] ?? '')
    .split(';', 1)[0]
    ?.trim()
    .toLowerCase();
  return type === 'application/json' ? 'json' : type === 'application/x-protobuf' ? 'protobuf' : null;
}

function sendProtobuf(response: ServerResponse, status: number, body: Uint8Array): void {
  response.writeHead(status, { 'content-type': 'application/x-protobuf', 'cache-control': 'no-store' });
  response.end(body);
}

/**
 * Apps may run in a browser at any address: an intake key is public and grants nothing but sending, so every origin may send.
 * Cookies are neither asked for nor looked at here.
 */
function allowOrigins(response: ServerResponse): void {
  response.setHeader('access-control-allow-origin', '*');
  response.setHeader('access-control-allow-headers', 'authorization, content-type, content-encoding');
  response.setHeader('access-control-allow-methods', 'POST, OPTIONS');
  response.setHeader('access-control-expose-headers', 'retry-after');
  response.setHeader('access-control-max-age', '86400');
}

const ndjson = ['application/x-ndjson', 'application/json'];

const entrances: readonly { key: string; entrance: Entrance; told: RawDescription }[] = [
  {
    key: 'POST /intake/v1/batch',
    entrance: batch,
    told: {
      does: 'Takes reports and sessions, one JSON object a line.',
      takes: 'key',
      consumes: ndjson,
      body: itemJsonSchema,
      status: 202,
    },
  },
  {
    key: 'POST /intake/v1/file',
    entrance: file,
    told: {
      does: 'Takes a crash file as the system wrote it.',
      takes: 'key',
      parameters: fileParametersSchema,
      consumes: ['application/octet-stream'],
      status: 202,
    },
  },
  {
    key: 'POST /v1/logs',
    entrance: otlp,
    told: {
      does: 'Takes log records of OTLP/HTTP 1.x; those of a crash become reports.',
      takes: 'key',
      consumes: ['application/json', 'application/x-protobuf'],
      status: 200,
    },
  },
];

export const intakeRoutes: readonly RawRoute[] = [
  ...entrances.flatMap(({ key, entrance, told }): RawRoute[] => [
    rawRoute(key, told, (services, request, response) => services.pressure.during(() => receive(services, request, response, entrance))),
    rawRoute(key.replace('POST', 'OPTIONS'), null, async (_services, _request, response) => {
      allowOrigins(response);
      response.writeHead(204).end();
    }),
  ]),
  rawRoute(
    'GET /intake/v1/schema.json',
    { does: 'JSON Schema of what may be sent in a batch.', takes: 'nothing', status: 200 },
    async (_services, _request, response) => sendJson(response, 200, itemJsonSchema()),
  ),
];

const countOf = (items: readonly ItemOutcome[]): number => items.reduce((sum, item) => sum + (item.stands ?? 1), 0);

/** Authorises, takes, logs and answers one request; a refusal is logged like an acceptance. */
async function receive(services: Services, request: IncomingMessage, response: ServerResponse, entrance: Entrance): Promise<void> {
  allowOrigins(response);
  const client = request.headers['user-agent'] ?? null;
  const logger = new IntakeLogger(services, client);
  let isReading = false;
  try {
    const received = await services.health.guard(take(), () => isReading);
    entrance.answer(response, received, request);
  } catch (error) {
    const known = toApiError(error);
    if (known.code === 'internal' || response.headersSent) throw error;
    request.unpipe();
    request.resume();
    response.setHeader('connection', 'close');
    const wait = known.detail.retryAfterSeconds ?? (known.status === 503 ? 5 : undefined);
    if (wait !== undefined) response.setHeader('retry-after', String(wait));
    entrance.answerError(response, known, request);
  }

  async function take(): Promise<Received> {
    const authorised = await authoriseIntake(services.database, request.headers.authorization);
    if (!authorised.ok) {
      await logger.refusal({ appId: authorised.appId, keyId: null, keyName: authorised.keyName, what: entrance.name }, authorised.error);
      throw authorised.error;
    }
    const { key } = authorised;
    const by = { appId: key.appId, keyId: key.id, keyName: key.name };
    const place = new LargePlace(services.largeBodies);
    let received: Received;
    try {
      const sender = { appId: key.appId, keyId: key.id, rules: key.rules, scrub: await readScrubRules(services.database, key.appId) };
      // A key that has sent too much already is told so before its body is read.
      await limitRate(services.database, sender, 0);
      received = await entrance.take(services, sender, request, () => readBodyIn(place));
    } catch (error) {
      if (error instanceof ApiError) await logger.refusal({ ...by, what: entrance.name }, error);
      throw error;
    } finally {
      place.giveUp();
    }
    await noteKeyUse(services.database, key, new Date());
    await logger.received(by, received);
    return received;
  }

  /** However slowly a sender sends, that is no fault of the database. */
  async function readBodyIn(place: LargePlace): Promise<Buffer> {
    isReading = true;
    try {
      return await readBody(request, services.settings.batchLimitBytes, place);
    } finally {
      isReading = false;
    }
  }
}

const loggedLines = 20;
const logScrubber = new Scrubber(defaultScrubRules);

/** Writes requests to the intake log. */
export class IntakeLogger {
  constructor(
    private readonly services: Services,
    private readonly client: string | null,
  ) {}

  async received(
    by: Pick<IntakeEntry, 'appId' | 'keyName'> & { keyId: number | null },
    { items, what, reportId }: Received,
  ): Promise<void> {
    const count = (outcome: IntakeOutcome) => countOf(items.filter((item) => item.outcome === outcome));
    for (const outcome of new Set(items.map((item) => item.outcome))) this.services.metrics.noteItem(by, outcome, count(outcome));
    const refused = items.find((item) => item.outcome === 'refused');
    await this.write({
      ...by,
      what,
      status: refused ? errorList['bad-body'].status : 202,
      accepted: count('accepted'),
      duplicates: count('duplicate'),
      excluded: count('excluded'),
      sampledOut: count('sampled-out'),
      passedOver: count('passed-over'),
      remarked: items.filter((item) => item.remarks.length > 0).length,
      refused: count('refused'),
      reason:
        refused?.reason ??
        items.find((item) => item.reason !== null)?.reason ??
        items.find((item) => item.remarks.length > 0)?.remarks[0] ??
        null,
      remedy: refused ? errorList['bad-body'].remedy : null,
      reportId,
      lines: items
        // What is nothing of an app is told by its number and one reason.
        .filter((item) => (item.outcome !== 'accepted' && item.outcome !== 'passed-over') || item.remarks.length > 0)
        .slice(0, loggedLines)
        .map(({ line, id, outcome, what: named, reason, remarks }) => ({
          line,
          ...(id !== null && { id: id.toLowerCase() }),
          outcome,
          what: named,
          reason: reason?.slice(0, 500) ?? null,
          ...(remarks.length > 0 && { remarks: remarks.slice(0, 20).map((one) => one.slice(0, 300)) }),
        })),
    });
  }

  async refusal(by: Pick<IntakeEntry, 'appId' | 'keyName' | 'what'> & { keyId: number | null }, error: ApiError): Promise<void> {
    this.services.metrics.noteRefusal(error.status);
    const nothing = { accepted: 0, duplicates: 0, excluded: 0, sampledOut: 0, passedOver: 0, remarked: 0, reportId: null, lines: [] };
    await this.write({ ...by, ...nothing, status: error.status, refused: 1, reason: error.message, remedy: errorList[error.code].remedy });
  }

  private async write(entry: Omit<Parameters<typeof writeIntakeLog>[1], 'client'>): Promise<void> {
    // Names of files and clients are texts of senders, too.
    await writeIntakeLog(this.services.database, {
      ...entry,
      what: logScrubber.text(entry.what.slice(0, 300)),
      client: this.client && logScrubber.text(this.client.slice(0, 200)),
    });
    if (entry.appId !== null) this.services.changes.note(entry.appId);
  }
}
