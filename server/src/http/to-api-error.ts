import { ApiError } from '../errors.ts';

/** What went wrong in words for the caller; a database that is away is no fault of the request. */
export function toApiError(error: unknown): ApiError {
  if (error instanceof ApiError) return error;
  const code = error instanceof Error && 'code' in error ? String(error.code) : '';
  if (
    /^(ECONNREFUSED|ECONNRESET|PROTOCOL_CONNECTION_LOST|ETIMEDOUT|EPIPE|ER_SERVER_SHUTDOWN|ER_LOCK_WAIT_TIMEOUT)$/.test(code) ||
    (error instanceof Error && error.name === 'KnexTimeoutError')
  )
    return new ApiError('unavailable', 'The database does not answer at the moment; nothing of this request was kept.');
  if (/^(ENOSPC|EDQUOT|ER_DISK_FULL|ER_RECORD_FILE_FULL|ER_ERROR_ON_WRITE)$/.test(code))
    return new ApiError('disk-full', 'There is no room left on the disk; nothing of this request was kept.');
  return new ApiError('internal', 'Something went wrong here.');
}
