/** Every error an endpoint answers with: its status and what to do about it. Codes are never given a new meaning. */
export const errorList = {
  'key-missing': { status: 401, remedy: 'Send the header "authorization: Bearer <intake key>"; the key is on the Intake page.' },
  'key-unknown': {
    status: 401,
    remedy: 'Send "authorization: Bearer <intake key>" with a key of this server, as the Intake page shows it.',
  },
  'key-revoked': { status: 401, remedy: 'Ship a build with a key that is in use; the Intake page lists them.' },
  'token-missing': { status: 401, remedy: 'Send the header "authorization: Bearer <upload token>"; make a token on the Intake page.' },
  'token-unknown': { status: 401, remedy: 'Make a new token on the Intake page.' },
  'not-signed-in': { status: 401, remedy: 'Sign in at /sign-in.' },
  'wrong-sign-in': { status: 401, remedy: 'Check the mail address and the password.' },
  'too-many-items': { status: 429, remedy: 'Wait as long as the header retry-after says and send the same items again.' },
  'too-many-attempts': { status: 429, remedy: 'Wait a minute before you try again.' },
  'wrong-password': { status: 403, remedy: 'Type the password you signed in with.' },
  'account-exists': { status: 409, remedy: 'Change the role of the account instead.' },
  'invitation-gone': { status: 410, remedy: 'Ask an owner for a new invitation.' },
  'last-owner': { status: 409, remedy: 'Make somebody else owner first.' },
  'bad-signature': { status: 401, remedy: 'Sign with the secret that the page Tickets of the app showed; renew it there if it is lost.' },
  'not-allowed': { status: 403, remedy: 'Ask an owner of this server for the right.' },
  'other-app': { status: 403, remedy: 'Name the app that the token belongs to, or make a token of the other one on its Intake page.' },
  'wrong-origin': { status: 403, remedy: 'Send the request from a page of this server.' },
  'not-found': { status: 404, remedy: 'Check the address.' },
  'wrong-method': { status: 405, remedy: 'Use the method that the documentation names for this address.' },
  'bad-request': { status: 400, remedy: 'Correct what the message names and send it again.' },
  overtaken: { status: 409, remedy: 'Look at the history of the case and decide anew.' },
  'weak-password': {
    status: 400,
    remedy: 'Choose one that is harder to guess: four words that do not belong together are long and can be remembered.',
  },
  taken: { status: 409, remedy: 'Choose another name and prefix.' },
  'bad-body': { status: 400, remedy: 'Correct the lines named here; the others were accepted and need not be sent again.' },
  'wrong-order': { status: 409, remedy: 'Take the parts in by their order, into an app where nothing has arrived yet.' },
  'bad-gzip': { status: 400, remedy: 'Send the body as it is, or compressed with gzip and "content-encoding: gzip".' },
  'unsupported-encoding': { status: 415, remedy: 'Send the body as it is, or compressed with gzip.' },
  'unsupported-type': { status: 415, remedy: 'Send the content type application/json or application/x-protobuf.' },
  'too-many-lines': { status: 413, remedy: 'Send the items in several batches, each with no more than the message names.' },
  'too-slow': { status: 408, remedy: 'Send smaller parts, or over a faster connection.' },
  busy: { status: 503, remedy: 'Send it again in a few seconds.' },
  'too-large': { status: 413, remedy: 'Split it into smaller parts, or raise the limit in the settings of the server.' },
  'unreadable-file': { status: 422, remedy: 'Hand over the file as the system wrote it.' },
  'not-a-symbol-file': { status: 422, remedy: 'Upload the symbol file that the build of this very version made.' },
  undelivered: { status: 422, remedy: 'Check where the channel leads and its secret, then send a sample again.' },
  'disk-full': { status: 503, remedy: 'Make room on the disk that the database is on; then send it again.' },
  unavailable: { status: 503, remedy: 'Try again in a few seconds.' },
  internal: { status: 500, remedy: 'Try again; if it stays, look into the server log for the request id.' },
} as const;

export type ErrorCode = keyof typeof errorList;

/** An error for whoever called: code, a sentence that says what is wrong, and a remedy. */
export class ApiError extends Error {
  constructor(
    readonly code: ErrorCode,
    message: string,
    readonly detail: Readonly<Record<string, unknown>> = {},
  ) {
    super(message);
  }

  get status(): number {
    return errorList[this.code].status;
  }

  /** What to do about it. */
  get remedy(): string {
    return errorList[this.code].remedy;
  }

  toJSON(): object {
    return { error: { code: this.code, message: this.message, remedy: this.remedy }, ...this.detail };
  }
}
