import { databaseFault } from '@rough-ember/store/database-errors';
import { ApiError } from './errors.ts';

/** What went wrong in words for the caller; a database that is away is no fault of the request. */
export function toApiError(error: unknown): ApiError {
  if (error instanceof ApiError) return error;
  const fault = databaseFault(error);
  if (fault === 'away') return new ApiError('unavailable', 'The database does not answer at the moment; nothing of this request was kept.');
  if (fault === 'full') return new ApiError('disk-full', 'There is no room left on the disk; nothing of this request was kept.');
  return new ApiError('internal', 'Something went wrong here.');
}
