import fc from 'fast-check';
import protobuf from 'protobufjs/minimal.js';
import { describe, expect, it } from 'vitest';
import {
  bigintOf,
  decodeMessage,
  type Message,
  type MessageShape,
  messageOf,
  messagesOf,
  ProtobufProblem,
  textOf,
  textsOf,
} from './protobuf.ts';

const nest: MessageShape = {
  1: { name: 'species', type: 'text' },
  2: { name: 'eggs', type: 'unsigned' },
  3: { name: 'warmth', type: 'signed' },
  4: { name: 'isTended', type: 'boolean' },
  5: { name: 'weight', type: 'double' },
  6: { name: 'ring', type: 'fixed64' },
  7: { name: 'egg', type: 'bytes' },
  8: { name: 'names', type: 'text', repeated: true },
  9: { name: 'below', type: () => nest, repeated: true },
};

interface Nest {
  readonly species: string;
  readonly eggs: bigint;
  readonly warmth: bigint;
  readonly isTended: boolean;
  readonly weight: number;
  readonly ring: bigint;
  readonly egg: Uint8Array;
  readonly names: readonly string[];
  readonly below: readonly Nest[];
}

const nestWithin = (depth: number): fc.Arbitrary<Nest> =>
  fc.record({
    species: fc.string({ minLength: 1, maxLength: 12 }),
    eggs: fc.bigInt({ min: 0n, max: 2n ** 64n - 1n }),
    warmth: fc.bigInt({ min: -(2n ** 63n), max: 2n ** 63n - 1n }),
    isTended: fc.boolean(),
    weight: fc.double({ noNaN: true }),
    ring: fc.bigInt({ min: 0n, max: 2n ** 63n - 1n }),
    egg: fc.uint8Array({ maxLength: 9 }),
    names: fc.array(fc.string({ maxLength: 8 }), { maxLength: 3 }),
    below: depth === 0 ? fc.constant([]) : fc.array(nestWithin(depth - 1), { maxLength: 2 }),
  });
const someNest = nestWithin(3);

const long = (value: bigint) => ({
  low: Number(BigInt.asIntN(32, value)),
  high: Number(BigInt.asIntN(32, value >> 32n)),
  unsigned: false,
});

/** Writes a nest with the general library, fields in any order and between them fields that nobody listed. */
function write({ species, eggs, warmth, isTended, weight, ring, egg, names, below }: Nest, extra: boolean): Uint8Array {
  const writer = protobuf.Writer.create();
  const tag = (field: number, wire: number) => writer.uint32(((field << 3) | wire) >>> 0);
  for (const one of below) tag(9, 2).bytes(write(one, extra));
  tag(5, 1).double(weight);
  if (extra) tag(900, 2).bytes(Uint8Array.from([1, 2, 3]));
  tag(6, 1).fixed64(long(ring) as never);
  tag(1, 2).string(species);
  if (extra) tag(901, 5).fixed32(7);
  tag(2, 0).uint64(long(eggs) as never);
  tag(3, 0).int64(long(warmth) as never);
  tag(4, 0).bool(isTended);
  // A field that is listed, written as another type than it has, is nobody's either.
  if (extra) tag(8, 0).uint32(4);
  for (const name of names) tag(8, 2).string(name);
  tag(7, 2).bytes(egg);
  return writer.finish();
}

const expected = ({ names, below, egg, ...plain }: Nest): Message => ({
  ...plain,
  egg: Uint8Array.from(egg),
  ...(names.length > 0 && { names }),
  ...(below.length > 0 && { below: below.map(expected) }),
});

/** Bytes as plain ones: the library's are of a class of its own. */
const plain = (message: Message): Message =>
  Object.fromEntries(
    Object.entries(message).map(([name, value]) => {
      if (value instanceof Uint8Array) return [name, Uint8Array.from(value)];
      return [name, name === 'below' ? messagesOf(value).map(plain) : value];
    }),
  );

describe('a message', () => {
  it('is read as the general library writes it, in any order of fields, passing over those nobody listed', () => {
    fc.assert(
      fc.property(someNest, fc.boolean(), (one, extra) => {
        expect(plain(decodeMessage(write(one, extra), nest))).toEqual(expected(one));
      }),
    );
  });

  it('that comes in two parts holds the last of each field and the lists of both', () => {
    const empty: Nest = {
      species: 'Kiebitz',
      eggs: 4n,
      warmth: -2n,
      isTended: true,
      weight: 1,
      ring: 3n,
      egg: new Uint8Array(),
      names: ['a'],
      below: [],
    };
    const bytes = [...write(empty, false), ...write({ ...empty, species: 'Bekassine', names: ['b', 'c'] }, false)];
    const message = decodeMessage(Uint8Array.from(bytes), nest);
    expect([textOf(message.species), textsOf(message.names), bigintOf(message.warmth)]).toEqual(['Bekassine', ['a', 'b', 'c'], -2n]);
    expect([textOf(message.eggs), bigintOf(message.species), messageOf(message.egg), messagesOf(message.names)]).toEqual([
      null,
      0n,
      null,
      [],
    ]);
  });

  it('nested without end is a problem, not a stack that overflows', () => {
    let bytes: Uint8Array = new Uint8Array();
    for (let depth = 0; depth < 200; depth++)
      bytes = protobuf.Writer.create()
        .uint32((9 << 3) | 2)
        .bytes(bytes)
        .finish();
    expect(() => decodeMessage(bytes, nest)).toThrow(new ProtobufProblem('messages are nested more than 32 deep'));
  });

  it('whose parts reach beyond it, or with groups, is none', () => {
    for (const bytes of [[0x4a, 0x7f, 0x0a], [0x0a, 0x05, 65], [0x0b], [0x4a, 0x02, 0x0a, 0x09, 65], [0xff]])
      expect(() => decodeMessage(Uint8Array.from(bytes), nest), String(bytes)).toThrow(ProtobufProblem);
  });

  it('of any bytes is read or is a problem', () => {
    fc.assert(
      fc.property(someNest, fc.array(fc.tuple(fc.nat(300), fc.nat(255)), { minLength: 1, maxLength: 5 }), (one, changes) => {
        const bytes = write(one, true);
        for (const [at, byte] of changes) bytes[at % bytes.length] = byte;
        try {
          decodeMessage(bytes, nest);
        } catch (error) {
          expect(error).toBeInstanceOf(ProtobufProblem);
        }
      }),
      { numRuns: 1_000 },
    );
  });
});
