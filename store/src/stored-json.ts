import { z } from 'zod';

/** JSON in the database that this version of the program cannot read. */
export class StoredJsonProblem extends Error {
  constructor(
    /** `table.column` */
    readonly column: string,
    reason: string,
  ) {
    super(`${column} holds what this version of the program cannot read: ${reason}`);
    this.name = 'StoredJsonProblem';
  }
}

/** How a column keeps values as JSON. */
export interface StoredForm<Value> {
  /** `table.column` */
  readonly column: string;
  /** What makes a value of each earlier version one of the next; its length is the version before the one that is written. */
  readonly upgrades: readonly ((value: unknown) => unknown)[];
  readonly schema: z.ZodType<Value>;
}

const envelopeSchema = z.strictObject({ storedVersion: z.int().min(2), value: z.unknown() });

/** The JSON of a value. The first version of a form stands as it is, later ones with their number beside them. */
export function writeStored<Value>({ upgrades }: StoredForm<Value>, value: Value): string {
  const storedVersion = upgrades.length + 1;
  return JSON.stringify(storedVersion === 1 ? value : { storedVersion, value });
}

/**
 * The value that a column holds, as text or as the database driver has parsed it, brought up to the version of today. Throws
 * StoredJsonProblem for what is no JSON, of a newer version, or no such value.
 */
export function readStored<Value>({ column, upgrades, schema }: StoredForm<Value>, stored: unknown): Value {
  const known = typeof stored === 'string' ? parsed(column, stored) : stored;
  const envelope = envelopeSchema.safeParse(known);
  const version = envelope.success ? envelope.data.storedVersion : 1;
  if (version > upgrades.length + 1) throw new StoredJsonProblem(column, `a newer one wrote it, in version ${version} of its form`);
  const value = upgrades.slice(version - 1).reduce((before, upgrade) => upgrade(before), envelope.success ? envelope.data.value : known);
  const read = schema.safeParse(value);
  if (!read.success) throw new StoredJsonProblem(column, z.prettifyError(read.error).slice(0, 500));
  return read.data;
}

function parsed(column: string, text: string): unknown {
  try {
    return JSON.parse(text);
  } catch (error) {
    throw new StoredJsonProblem(column, `it is no JSON (${error instanceof Error ? error.message : error})`);
  }
}
