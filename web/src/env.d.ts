type PageLocals = import('@rough-ember/server/start-server').PageLocals;

declare namespace App {
  interface Locals extends PageLocals {
    /** The visit of this page. */
    visit: import('@rough-ember/server/api/visit').PageVisit;
  }
}
