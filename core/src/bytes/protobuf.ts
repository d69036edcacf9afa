import protobuf from 'protobufjs/minimal.js';

/**
 * What a message holds, by field number: name, type, and whether it may come several times. Fields that are not listed
 * are skipped, as protobuf asks of readers.
 */
export interface MessageShape {
  readonly [field: number]: {
    readonly name: string;
    readonly type: 'text' | 'bytes' | 'unsigned' | 'signed' | 'fixed64' | 'double' | 'boolean' | MessageShape | (() => MessageShape);
    readonly repeated?: true;
  };
}

/** A decoded message; numbers of 64 bits are bigint. */
export interface Message {
  readonly [name: string]: MessageValue | readonly MessageValue[] | undefined;
}
export type MessageValue = string | number | bigint | boolean | Uint8Array | Message;

/** Bytes that are no message of the wanted shape. */
export class ProtobufProblem extends Error {}

const deepest = 32;

/** More messages than this are not decoded: an empty one takes two bytes, and a hundred times as much in memory. */
export const mostMessages = 1_000_000;

/** Decodes a message (Protocol Buffers, "Encoding"). Throws ProtobufProblem on bytes that are none. */
export function decodeMessage(bytes: Uint8Array, shape: MessageShape): Message {
  try {
    const reader = protobuf.Reader.create(bytes);
    return decode({ reader, messages: 0 }, reader.len, shape, 0);
  } catch (error) {
    throw error instanceof ProtobufProblem ? error : new ProtobufProblem(error instanceof Error ? error.message : String(error));
  }
}

const wireTypes = { text: 2, bytes: 2, unsigned: 0, signed: 0, boolean: 0, fixed64: 1, double: 1 } as const;

/** Where decoding stands, and how many messages it has begun. */
interface Decoding {
  readonly reader: protobuf.Reader;
  messages: number;
}

function decode(decoding: Decoding, end: number, shape: MessageShape, depth: number): Message {
  const { reader } = decoding;
  if (++decoding.messages > mostMessages) throw new ProtobufProblem(`there are more than ${mostMessages} messages in it`);
  if (depth > deepest) throw new ProtobufProblem(`messages are nested more than ${deepest} deep`);
  if (end > reader.len) throw new ProtobufProblem(`a message reaches ${end - reader.len} bytes beyond the end`);
  const message: Record<string, MessageValue | MessageValue[]> = {};
  while (reader.pos < end) {
    const tag = reader.uint32();
    const field = shape[tag >>> 3];
    const wire = tag & 7;
    if (!field || wire !== (typeof field.type === 'string' ? wireTypes[field.type] : 2)) {
      if (wire === 3 || wire === 4) throw new ProtobufProblem('groups are not in use any more');
      reader.skipType(wire);
      continue;
    }
    const value = typeof field.type === 'string' ? readScalar(reader, field.type) : readMessage(decoding, field.type, depth);
    if (!field.repeated) message[field.name] = value;
    else {
      const list = message[field.name];
      if (Array.isArray(list)) list.push(value);
      else message[field.name] = [value];
    }
  }
  if (reader.pos > end) throw new ProtobufProblem('a field reaches beyond its message');
  return message;
}

function readMessage(decoding: Decoding, type: MessageShape | (() => MessageShape), depth: number): Message {
  const { reader } = decoding;
  const length = reader.uint32();
  return decode(decoding, reader.pos + length, typeof type === 'function' ? type() : type, depth + 1);
}

function readScalar(reader: protobuf.Reader, type: keyof typeof wireTypes): MessageValue {
  switch (type) {
    case 'text':
      return reader.string();
    case 'bytes':
      return reader.bytes();
    case 'boolean':
      return reader.bool();
    case 'double':
      return reader.double();
    case 'unsigned':
      return BigInt(reader.uint64().toString());
    case 'signed':
      return BigInt(reader.int64().toString());
    case 'fixed64':
      return BigInt(reader.fixed64().toString());
  }
}

type Value = Message[string];
const isMessage = (value: Value): value is Message => typeof value === 'object' && !Array.isArray(value) && !(value instanceof Uint8Array);

export const textOf = (value: Value): string | null => (typeof value === 'string' && value !== '' ? value : null);
export const bigintOf = (value: Value): bigint => (typeof value === 'bigint' ? value : 0n);
export const messageOf = (value: Value): Message | null => (isMessage(value) ? value : null);
export const messagesOf = (value: Value): Message[] => (Array.isArray(value) ? (value as readonly MessageValue[]).filter(isMessage) : []);
export const textsOf = (value: Value): string[] =>
  Array.isArray(value) ? (value as readonly MessageValue[]).filter((one) => typeof one === 'string') : [];
