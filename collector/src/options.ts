import type { Attributes, BeforeSend, Kind } from './item.ts';
import type { Storage } from './storage.ts';

export interface CollectorOptions {
  /** Address of the server, such as "https://ember.example". */
  readonly server: string;
  /** Intake key; it may be public. */
  readonly key: string;
  readonly version: string;
  readonly build: string;
  /** "release" unless told; with "debug" nothing is collected unless `inDebugBuilds` is set. */
  readonly buildType?: string;
  readonly inDebugBuilds?: boolean;
  readonly os?: { readonly name: string; readonly version: string };
  readonly device?: { readonly manufacturer?: string; readonly model: string };
  /** The id your app knows its user by. */
  readonly personId?: string;
  /**
   * Share of each kind that is sent, from 0 to 1; 1 unless told. Sessions are always sent; `trail` is the share of them that tell
   * what happened in them though nothing went wrong, 0.1 unless told.
   */
  readonly sample?: Readonly<Partial<Record<Kind | 'trail', number>>>;
  /** What is noted by itself; everything unless told otherwise, texts of the interface never unless told so. */
  readonly trail?: {
    readonly console?: boolean;
    readonly requests?: boolean;
    readonly navigation?: boolean;
    readonly taps?: boolean;
    readonly lifecycle?: boolean;
    readonly interfaceText?: boolean;
  };
  /** Asked at the moment of a crash or error; its values become attributes of the report. */
  readonly stateAtCrash?: () => Attributes;
  /** Sends the elements of the page with each report, by name, id and role, and never what stands in them; off unless told. */
  readonly viewTree?: boolean;
  /** Asked for each item; what the protocol has of the device and its surroundings, such as `{ network: 'wifi', carrier: '…' }`. */
  readonly circumstances?: () => Readonly<Record<string, unknown>>;
  /** Looks at each item before it is kept; one that fails keeps nothing. */
  readonly beforeSend?: BeforeSend;
  /** Prints what would be sent, and sends nothing. */
  readonly dryRun?: boolean;
  /** Where items wait for the server, across launches; the browser's local storage unless told. */
  readonly storage?: Storage;
  /** How long a page may take to answer before that is a hang, in milliseconds, where the browser tells; 5,000 unless told, 0 for none. */
  readonly hangMs?: number;
  /** Catch errors nobody handles and rejections; on unless told. */
  readonly uncaught?: boolean;
  readonly sessions?: boolean;
  /** The session of the native side of the same app, which tells of it: what is reported here lies together with what happens there. */
  readonly session?: { readonly id: string; readonly installationId: string };
}
