export interface FrameApp {
  readonly slug: string;
  readonly name: string;
  readonly prefix: string;
}

/** What the frame around every page shows. */
export interface Frame {
  readonly app: FrameApp;
  readonly apps: readonly FrameApp[];
  readonly account: { readonly name: string; readonly email: string; readonly role: 'owner' | 'developer' | 'viewer' };
  /** Address under which devices and build servers reach this server. */
  readonly serverAddress: string;
  readonly serverVersion: string;
}
