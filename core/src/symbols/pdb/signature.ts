import { ByteReader, MalformedInput } from '../../bytes/byte-reader.ts';
import { compressedUnsigned, type Metadata, table } from './metadata.ts';

/** Names of the built-in types by their element type (ECMA-335 II.23.1.16). */
const builtIn: Readonly<Record<number, string>> = {
  1: 'Void',
  2: 'Boolean',
  3: 'Char',
  4: 'SByte',
  5: 'Byte',
  6: 'Int16',
  7: 'UInt16',
  8: 'Int32',
  9: 'UInt32',
  10: 'Int64',
  11: 'UInt64',
  12: 'Single',
  13: 'Double',
  14: 'String',
  22: 'TypedReference',
  24: 'IntPtr',
  25: 'UIntPtr',
  28: 'Object',
};

const deepestType = 64;
const mostParameters = 1_000;

/** Names of the type parameters of a type or method, by position. */
export interface TypeParameters {
  readonly ofType: readonly string[];
  readonly ofMethod: readonly string[];
}

/**
 * The parameter types of a method's signature (ECMA-335 II.23.2.1) in the short form by which overloads are told apart:
 * names without namespace and without type arguments, such as `Dictionary`2` or `Int32[,]&`.
 */
export function parameterTypes(metadata: Metadata, signature: Uint8Array, parameters: TypeParameters): string[] {
  const reader = new ByteReader(signature, true);
  const convention = reader.u8();
  if (convention & 0x10) compressedUnsigned(reader);
  const count = compressedUnsigned(reader);
  if (count > mostParameters) throw new MalformedInput(`a method of ${count} parameters`, 0);
  const types = new TypeReader(metadata, reader, parameters);
  types.read();
  return Array.from({ length: count }, () => types.read());
}

class TypeReader {
  constructor(
    private readonly metadata: Metadata,
    private readonly reader: ByteReader,
    private readonly parameters: TypeParameters,
  ) {}

  read(depth = 0): string {
    if (depth > deepestType) throw new MalformedInput('a type is nested too deeply', this.reader.position);
    const kind = this.reader.u8();
    switch (kind) {
      case 0x0f:
        return `${this.read(depth + 1)}*`;
      case 0x10:
        return `${this.read(depth + 1)}&`;
      case 0x11:
      case 0x12:
        return this.named();
      case 0x13:
        return this.parameter(this.parameters.ofType, '!');
      case 0x1e:
        return this.parameter(this.parameters.ofMethod, '!!');
      case 0x14:
        return this.array(depth);
      case 0x15: {
        this.reader.skip(1);
        const name = this.named();
        const count = compressedUnsigned(this.reader);
        for (let index = 0; index < count; index++) this.read(depth + 1);
        return name;
      }
      case 0x1b:
        return this.functionPointer(depth);
      case 0x1d:
        return `${this.read(depth + 1)}[]`;
      case 0x1f:
      case 0x20:
        compressedUnsigned(this.reader);
        return this.read(depth + 1);
      case 0x41:
      case 0x45:
        return this.read(depth + 1);
      default: {
        const name = builtIn[kind];
        if (name === undefined) throw new MalformedInput(`element type ${kind} is not known`, this.reader.position - 1);
        return name;
      }
    }
  }

  /** TypeDefOrRefOrSpecEncoded, ECMA-335 II.23.2.8. */
  private named(): string {
    const coded = compressedUnsigned(this.reader);
    const of = [table.typeDef, table.typeRef, table.typeSpec][coded & 3];
    if (of === undefined || of === table.typeSpec) return '';
    return this.metadata.text(of, coded >>> 2, 1);
  }

  private parameter(names: readonly string[], mark: string): string {
    const position = compressedUnsigned(this.reader);
    return names[position] ?? `${mark}${position}`;
  }

  private array(depth: number): string {
    const element = this.read(depth + 1);
    const rank = compressedUnsigned(this.reader);
    for (let list = 0; list < 2; list++) {
      const count = compressedUnsigned(this.reader);
      for (let index = 0; index < count; index++) compressedUnsigned(this.reader);
    }
    return `${element}[${','.repeat(Math.min(Math.max(rank - 1, 0), 32))}]`;
  }

  private functionPointer(depth: number): string {
    if (this.reader.u8() & 0x10) compressedUnsigned(this.reader);
    const count = compressedUnsigned(this.reader);
    for (let index = 0; index <= count; index++) this.read(depth + 1);
    return '(fnptr)';
  }
}

/** The short parameter types of a printed list, such as `System.String[] names, System.Int32& total`. */
export function printedParameterTypes(printed: string): string[] {
  // Type arguments may hold commas themselves; the marks of an array hold nothing but commas.
  let plain = printed;
  for (let before = ''; before !== plain; ) {
    before = plain;
    plain = plain.replace(/\[[^[\]]*[^[\],\s][^[\]]*\]/gu, '').replace(/<[^<>]*>/g, '');
  }
  return splitOutsideBrackets(plain).map((one) => {
    const type = one.trim().replace(/^(?:ref|out|in|params) /, '');
    const withoutName = / [^\s\]]+$/.test(type) ? type.slice(0, type.lastIndexOf(' ')) : type;
    return withoutName.slice(Math.max(withoutName.lastIndexOf('.'), withoutName.lastIndexOf('+'), withoutName.lastIndexOf('/')) + 1);
  });
}

/** Splits a printed list at the commas that stand in no brackets. */
export function splitOutsideBrackets(text: string): string[] {
  const parts: string[] = [];
  let from = 0;
  let depth = 0;
  for (let at = 0; at < text.length; at++) {
    if (text[at] === '[') depth++;
    else if (text[at] === ']') depth--;
    else if (text[at] === ',' && depth === 0) {
      parts.push(text.slice(from, at));
      from = at + 1;
    }
  }
  const last = text.slice(from);
  return last.trim() === '' ? parts : [...parts, last];
}
