import protobuf from 'protobufjs/minimal.js';

/** What is said of an accepted request: how many of its records were rejected, and why. */
export interface PartialSuccess {
  readonly rejectedLogRecords: number;
  readonly errorMessage: string;
}

/** ExportLogsServiceResponse; without a partial success it is empty. Int64 is text in the JSON mapping. */
export const partialSuccessJson = (partial: PartialSuccess | null): object =>
  partial === null
    ? {}
    : { partialSuccess: { rejectedLogRecords: String(partial.rejectedLogRecords), errorMessage: partial.errorMessage } };

export function encodePartialSuccess(partial: PartialSuccess | null): Uint8Array {
  const writer = protobuf.Writer.create();
  if (partial !== null)
    writer
      .uint32(tag(1, 2))
      .fork()
      .uint32(tag(1, 0))
      .int64(partial.rejectedLogRecords)
      .uint32(tag(2, 2))
      .string(partial.errorMessage)
      .ldelim();
  return writer.finish();
}

/** google.rpc.Status, the body of every OTLP error. */
export function encodeStatus({ code, message }: { code: number; message: string }): Uint8Array {
  return protobuf.Writer.create().uint32(tag(1, 0)).int32(code).uint32(tag(2, 2)).string(message).finish();
}

const tag = (field: number, wireType: number): number => (field << 3) | wireType;

/** The canonical code (google.rpc.Code) for an HTTP status, as its documentation maps them. */
export const rpcCode = (status: number): number =>
  ({ 400: 3, 401: 16, 403: 7, 404: 5, 409: 6, 413: 8, 415: 3, 422: 3, 429: 8, 503: 14 })[status] ?? 13;
