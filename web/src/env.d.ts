declare namespace App {
  interface Locals {
    /** Made at start and handed to every request by the HTTP server. */
    services: import('@rough-ember/server/services').Services;
    requestId: string;
    /** Where the connection comes from; nothing a sender can make up. */
    remoteAddress: string;
    /** Who is signed in; null on the sign-in page and for requests with a token. */
    account: import('@rough-ember/store/accounts').Account | null;
    /** The token of a request without a person. */
    token?: import('@rough-ember/store/credentials').Token;
  }
}
