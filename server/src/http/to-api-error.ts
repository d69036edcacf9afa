import { ApiError } from '../errors.ts';

/** Codes of errors that say that the database is away, or kept somebody waiting for too long. */
const awayCodes = /^(ECONNREFUSED|ECONNRESET|PROTOCOL_CONNECTION_LOST|ETIMEDOUT|EPIPE|ER_SERVER_SHUTDOWN|ER_LOCK_WAIT_TIMEOUT)$/;
const fullCodes = /^(ENOSPC|EDQUOT|ER_DISK_FULL|ER_RECORD_FILE_FULL|ER_ERROR_ON_WRITE)$/;

/**
 * The same by what they say: on the way from a thread an error loses its code and its name. A statement with the values in it may stand
 * before the reason, so only the beginning and the end are looked at.
 */
const awayWords = [
  /^connect (ECONNREFUSED|ECONNRESET|ETIMEDOUT|EPIPE)\b/,
  /^Knex: Timeout acquiring a connection/,
  /(^|- )(read ECONNRESET|write EPIPE|connect ECONNREFUSED [\d.:[\]a-f]+)$/,
  /(^|- )Connection lost: The server closed the connection\.$/,
  /(^|- )Can't add new command when connection is in closed state$/,
  /(^|- )Lock wait timeout exceeded; try restarting transaction$/,
];
const fullWords = [/^ENOSPC\b/, /(^|- )The table '[^']*' is full$/, /(^|- )Disk full \([^)]*\)/];

/** What went wrong in words for the caller; a database that is away is no fault of the request. */
export function toApiError(error: unknown): ApiError {
  if (error instanceof ApiError) return error;
  const code = error instanceof Error && 'code' in error ? String(error.code) : '';
  const words = error instanceof Error ? error.message : '';
  const says = (patterns: readonly RegExp[]) => patterns.some((one) => one.test(words));
  if (awayCodes.test(code) || says(awayWords))
    return new ApiError('unavailable', 'The database does not answer at the moment; nothing of this request was kept.');
  if (fullCodes.test(code) || says(fullWords))
    return new ApiError('disk-full', 'There is no room left on the disk; nothing of this request was kept.');
  return new ApiError('internal', 'Something went wrong here.');
}
