import type { z } from 'zod';
import { accountOperations, peopleOperations } from '../accounts/operations.ts';
import { alertOperations } from '../alerts/operations.ts';
import { settingOperations } from '../app-settings/operations.ts';
import { askOperations } from '../ask/operations.ts';
import { caseOperations, deskOperations, reportOperations } from '../desk/operations.ts';
import { downloadOperations } from '../downloads/operations.ts';
import { forwardOperations } from '../forwarding/operations.ts';
import { groupingOperations } from '../grouping/operations.ts';
import { intakeOperations } from '../intake/operations.ts';
import { nowOperations } from '../now/operations.ts';
import type { PathOf } from '../operation/operation.ts';
import { privacyOperations } from '../privacy/operations.ts';
import { sequenceOperations } from '../sequences/operations.ts';
import { stabilityOperations } from '../stability/operations.ts';
import { symbolOperations } from '../symbols/operations.ts';
import { ticketOperations } from '../tickets/operations.ts';
import { toldOperations } from '../told/operations.ts';
import { transferOperations } from '../transfer/operations.ts';
import { versionOperations } from '../versions/operations.ts';
import { wallOperations } from '../wall/operations.ts';

/** Every operation of this server that takes and answers JSON, in the order of the documentation. */
export const operations = [
  ...accountOperations,
  ...caseOperations,
  ...reportOperations,
  ...deskOperations,
  ...groupingOperations,
  ...symbolOperations,
  ...stabilityOperations,
  ...sequenceOperations,
  ...forwardOperations,
  ...versionOperations,
  ...askOperations,
  ...nowOperations,
  ...intakeOperations,
  ...privacyOperations,
  ...settingOperations,
  ...peopleOperations,
  ...toldOperations,
  ...alertOperations,
  ...ticketOperations,
  ...wallOperations,
  ...transferOperations,
  ...downloadOperations,
] as const;

type Declared = (typeof operations)[number];
export type OperationKey = Declared['key'];
type Of<K extends OperationKey> = Extract<Declared, { readonly key: K }>;

/** What an operation answers. */
export type AnswerOf<K extends OperationKey> = Awaited<ReturnType<Of<K>['run']>>;
/** Values as they may be given: nobody changes them. */
type Fixed<Value> = Value extends readonly (infer Element)[]
  ? readonly Fixed<Element>[]
  : Value extends object
    ? { readonly [Name in keyof Value]: Fixed<Value[Name]> }
    : Value;
type ParametersOf<K extends OperationKey> =
  Of<K> extends { readonly parameters?: infer Schema extends z.ZodType } ? Fixed<z.input<Schema>> : never;
type BodyOf<K extends OperationKey> = Of<K> extends { readonly body?: infer Schema extends z.ZodType } ? Fixed<z.input<Schema>> : never;

/** What is sent to an operation beside its path; parameters may be those of an address as it is. */
export interface Sent<K extends OperationKey> {
  readonly parameters?: ParametersOf<K> | URLSearchParams | string;
  readonly body?: BodyOf<K>;
}

/** Asks for an operation, from a page as from a browser. */
export type Ask = <K extends OperationKey>(key: K, path: PathOf<K>, sent?: Sent<K>) => Promise<AnswerOf<K>>;
