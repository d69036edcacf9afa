/** Codes of errors that say that the database is away, kept somebody waiting for too long, or let others go first again and again. */
const awayCodes =
  'ECONNREFUSED|ECONNRESET|PROTOCOL_CONNECTION_LOST|ETIMEDOUT|EPIPE|ER_SERVER_SHUTDOWN|ER_LOCK_WAIT_TIMEOUT|ER_LOCK_DEADLOCK|ER_UNKNOWN_COM_ERROR';
const fullCodes = 'ENOSPC|EDQUOT|ER_DISK_FULL|ER_RECORD_FILE_FULL|ER_ERROR_ON_WRITE';

const saidBy = 'the database says';
const unreachable = 'the database cannot be reached';

/**
 * The same by what they say: on the way from a thread an error keeps its words alone, and some have no code. A statement with the
 * values in it may stand before the reason, so only the beginning and the end are looked at.
 */
const awayWords = [
  new RegExp(`^(${saidBy} |connect )(${awayCodes})\\b`),
  new RegExp(`^${unreachable}`),
  /^Knex: Timeout acquiring a connection/,
  /(^|- )(read ECONNRESET|write EPIPE|connect ECONNREFUSED [\d.:[\]a-f]+)$/,
  /(^|- )Connection lost: The server closed the connection\.$/,
  /(^|- )Can't add new command when connection is in closed state$/,
];
const fullWords = [new RegExp(`^(${saidBy} )?(${fullCodes})\\b`)];

const isAwayCode = new RegExp(`^(${awayCodes})$`);
const isFullCode = new RegExp(`^(${fullCodes})$`);

/**
 * Whether an error is the database's and no fault of what was asked: it is away, was held for too long, or there is no room on the
 * disk; null when it is none of these. An error that came from a thread is known by the words of `reasonOf`.
 */
export function databaseFault(error: unknown): 'away' | 'full' | null {
  const code = codeOf(error);
  const words = error instanceof Error ? error.message : '';
  const says = (patterns: readonly RegExp[]) => patterns.some((one) => one.test(words));
  if (isAwayCode.test(code) || says(awayWords)) return 'away';
  if (isFullCode.test(code) || says(fullWords)) return 'full';
  return null;
}

/** What an error says to people and logs: of the database its reason, never the statement with the values that were in it. */
export function reasonOf(error: unknown): string {
  if (!(error instanceof Error)) return String(error).slice(0, mostReasonCharacters);
  const { sqlMessage } = error as { sqlMessage?: unknown };
  return reason(error, sqlMessage).slice(0, mostReasonCharacters);
}

function reason(error: Error, sqlMessage: unknown): string {
  if (typeof sqlMessage === 'string') return `${saidBy} ${codeOf(error)}: ${sqlMessage}`;
  if (databaseFault(error) !== 'away' || error.message.startsWith(saidBy) || error.message.startsWith(unreachable)) return error.message;
  const code = codeOf(error);
  return code === '' ? unreachable : `${unreachable}: ${code}`;
}

const codeOf = (error: unknown): string => (error instanceof Error && 'code' in error ? String(error.code) : '');

const mostReasonCharacters = 500;
