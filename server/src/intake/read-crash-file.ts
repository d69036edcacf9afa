import { readCrashFile } from '@rough-ember/core/report/formats/crash-file';
import { wordFormat } from '@rough-ember/core/report/formats/formats';
import type { FoundReport } from '@rough-ember/core/report/formats/found-report';
import { buildName } from '@rough-ember/core/report/limits';
import { printable } from '@rough-ember/core/report/printable';
import type { Report } from '@rough-ember/core/report/report';
import { reportKinds } from '@rough-ember/core/report/report-kinds';
import type { Result } from '@rough-ember/core/result';
import type { StorableAttachment } from '@rough-ember/store/attachments';
import { z } from 'zod';
import { type IntakePolicy, Judge, type ParsedLine } from './parse-batch.ts';

/** What a sender knows of a crash file: the address parameters of `/intake/v1/file`. What the file itself tells may be left out. */
export const fileParametersSchema = z.object({
  id: z.uuid().optional(),
  kind: z.enum(reportKinds).optional(),
  occurredAt: z.iso.datetime({ offset: true }).optional(),
  version: buildName.optional(),
  build: buildName.optional(),
  buildType: z.string().trim().min(1).max(50).optional(),
  osName: z.string().max(50).overwrite(printable).optional(),
  osVersion: z.string().max(50).overwrite(printable).default(''),
  deviceManufacturer: z.string().max(100).overwrite(printable).optional(),
  deviceModel: z.string().max(100).overwrite(printable).optional(),
  installationId: z.uuid().optional(),
  personId: z.string().min(1).max(200).overwrite(printable).optional(),
  sessionId: z.uuid().optional(),
  name: z.string().max(200).overwrite(printable).optional(),
});
export type FileParameters = z.infer<typeof fileParametersSchema>;

export interface FileTask {
  readonly bytes: Uint8Array;
  readonly parameters: FileParameters;
  /** On the parameters, for the first report. */
  readonly remarks: readonly string[];
  readonly policy: IntakePolicy;
  readonly receivedAt: string;
  /** A person hands it over, and no app. */
  readonly byHand: boolean;
  /** Ids for the reports that bring none of their own. */
  readonly freshIds: readonly string[];
}

export interface ReadFile {
  readonly lines: readonly ParsedLine[];
  /** What the file is, in words. */
  readonly format: string;
  /** The file itself, scrubbed, to be kept with its first report; null when it cannot be scrubbed, being binary. */
  readonly original: Omit<StorableAttachment, 'id' | 'reportId'> | null;
}

export type FileProblem = 'unreadable-file' | 'too-large' | 'bad-request';

/** How many reports of one file are taken. */
export const reportsOfAFile = 200;

/** Reads a crash file into reports, judged and scrubbed like those of a batch. */
export function readFileTask({
  bytes,
  parameters,
  remarks,
  policy,
  receivedAt,
  byHand,
  freshIds,
}: FileTask): Result<ReadFile, FileProblem> {
  const read = readCrashFile(bytes, { receivedAt });
  if (!read.ok)
    return {
      ok: false,
      problem: { code: read.problem.code === 'too-large' ? 'too-large' : 'unreadable-file', message: read.problem.message },
    };
  if (parameters.id !== undefined && read.value.length > 1)
    return {
      ok: false,
      problem: {
        code: 'bad-request',
        message: `the file holds ${read.value.length} reports, so one id cannot stand for it; leave "id" out`,
      },
    };
  const [first] = read.value;
  if (!first) return { ok: false, problem: { code: 'unreadable-file', message: 'the file tells of no crash, hang or kill' } };
  const unsaid = [(parameters.version ?? first.version) ? null : 'version', (parameters.build ?? first.build) ? null : 'build'].filter(
    (one) => one !== null,
  );
  if (unsaid.length > 0)
    return {
      ok: false,
      problem: {
        code: 'bad-request',
        message: `the file is ${wordFormat(first.format)}, which does not tell ${unsaid.map((one) => `"${one}"`).join(' and ')}; give it as an address parameter`,
      },
    };
  const judge = new Judge(policy, { receivedAt, byHand });
  const lines = read.value.slice(0, reportsOfAFile).map((found, index): ParsedLine => {
    const told = [...(index === 0 ? remarks : []), ...found.notes];
    const report = toReport(found, { parameters, receivedAt, id: parameters.id ?? found.id ?? (freshIds[index] as string), remarks: told });
    const judged = judge.item(
      { type: 'report', ...report },
      { line: index + 1, text: '', place: `report ${index + 1} of the file cannot be kept: ` },
    );
    // What the reader and the address already had to say is told with what was put right.
    return { ...judged, remarks: [...told.map((one) => judge.scrubbed(one)), ...judged.remarks] };
  });
  const isText = !bytes.subarray(0, 4096).includes(0) && first.format !== 'tombstone-protobuf';
  const original = isText
    ? {
        kind: 'original' as const,
        name: parameters.name ?? `${first.format}.txt`,
        mediaType: 'text/plain',
        content: new TextEncoder().encode(judge.scrubbed(new TextDecoder().decode(bytes))),
      }
    : null;
  return {
    ok: true,
    value: {
      lines,
      format: `${wordFormat(first.format)}${read.value.length > 1 ? ` with ${read.value.length} reports` : ''}`,
      original,
    },
  };
}

function toReport(
  found: FoundReport,
  { parameters, receivedAt, id, remarks }: { parameters: FileParameters; receivedAt: string; id: string; remarks: readonly string[] },
): Partial<Record<keyof Report, unknown>> {
  return {
    id,
    kind: parameters.kind ?? found.kind,
    occurredAt: parameters.occurredAt ?? found.occurredAt ?? receivedAt,
    version: parameters.version ?? found.version,
    build: parameters.build ?? found.build,
    ...((parameters.buildType ?? found.buildType) === undefined ? {} : { buildType: parameters.buildType ?? found.buildType }),
    os: parameters.osName === undefined ? found.os : { name: parameters.osName, version: parameters.osVersion },
    device:
      parameters.deviceModel === undefined
        ? found.device
        : { manufacturer: parameters.deviceManufacturer ?? null, model: parameters.deviceModel },
    installationId: parameters.installationId ?? found.installationId ?? null,
    personId: parameters.personId ?? found.personId ?? null,
    sessionId: parameters.sessionId ?? found.sessionId ?? null,
    trail: found.trail ?? [],
    flags: found.flags ?? {},
    exceptions: found.exceptions,
    threads: found.threads,
    images: found.images,
    sections: found.sections,
    attributes: { ...found.attributes, ...(found.process === null ? {} : { 'process.name': found.process }) },
    remarks,
  };
}
