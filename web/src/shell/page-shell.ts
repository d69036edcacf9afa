export interface ShellApp {
  readonly slug: string;
  readonly name: string;
  readonly prefix: string;
}

/** What the shell around every page shows. */
export interface PageShell {
  readonly app: ShellApp;
  readonly apps: readonly ShellApp[];
  readonly account: {
    readonly name: string;
    readonly email: string;
    readonly role: 'owner' | 'developer' | 'viewer';
    /** The zone that they chose for times; null for that of the browser. */
    readonly zone: string | null;
  };
  /** How much of what whoever looks was told is unread. */
  readonly unread: number;
  /** The zone that times are shown in, as far as the server knows it. */
  readonly zone: string;
  /** Address under which devices and build servers reach this server. */
  readonly serverAddress: string;
  readonly serverVersion: string;
}
