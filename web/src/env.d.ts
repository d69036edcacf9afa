declare namespace App {
  interface Locals {
    /** Made at start and handed to every request by the HTTP server. */
    services: import('@rough-ember/server/services').Services;
    requestId: string;
    /** Who is signed in; null on the sign-in page and for requests with a token. */
    account: import('@rough-ember/store/accounts').Account | null;
  }
}
