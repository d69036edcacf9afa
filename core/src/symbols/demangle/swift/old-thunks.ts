import { NotSwift, node, type SwiftNode, textNode, typeNode } from './node.ts';
import { OldReader } from './old-mangling.ts';
import { wanted } from './reader.ts';
import { valueWitnesses } from './thunks.ts';

const attributes: Readonly<Record<string, string>> = {
  o: 'ObjCAttribute',
  O: 'NonObjCAttribute',
  D: 'DynamicAttribute',
  d: 'DirectMethodReferenceAttribute',
};

/**
 * A whole symbol of the mangling before version 4, behind its `_T`: attributes and specializations, what they are about, and what the
 * compiler wrote behind the name.
 *
 * @param named reads a whole mangled name, as of a function that a specialization names; null when it is none.
 */
export function readOldSymbol(text: string, named: (name: string) => string | null): SwiftNode[] {
  const nameOf = (name: string) => named(name) ?? name;
  const reader = new OldReader(text);
  const parts: SwiftNode[] = [];
  if (reader.takes('TS')) {
    do {
      parts.push(readSpecialization(reader, nameOf));
      // What a specialization names is no part of what follows.
      reader.forget();
    } while (reader.takes('_TTS'));
    reader.expect('_T');
  } else if (/^T[oODd]/.test(text)) {
    reader.expect('T');
    parts.push(node(attributes[reader.next()] as string));
  }
  parts.push(...readGlobal(reader));
  const rest = reader.rest();
  if (rest === '') return parts;
  // What is left over of any other name says that it is none.
  if (text.startsWith('t') || !/^(?:[._\d]|U_)/.test(rest)) throw new NotSwift('something is left');
  return [...parts, textNode('Suffix', rest)];
}

/** A function in the words of its source, by its mangled name. */
type NameOf = (name: string) => string;

function readGlobal(reader: OldReader): SwiftNode[] {
  if (reader.takes('PA')) {
    const kind = reader.takes('o') ? 'PartialApplyObjCForwarder' : 'PartialApplyForwarder';
    return [node(kind), ...(reader.takes('__T') ? readGlobal(reader) : [])];
  }
  if (reader.takes('t')) return [reader.type()];
  if (reader.takes('M')) return [readMetadata(reader)];
  if (reader.takes('w')) {
    const name = wanted(valueWitnesses[reader.next() + reader.next()] ?? null, 'a value witness');
    return [node('ValueWitness', textNode('Identifier', name), reader.type())];
  }
  if (reader.takes('W')) return [readWitness(reader)];
  if (reader.takes('T')) return [readThunk(reader)];
  return [reader.entity()];
}

const metadata: Readonly<Record<string, string>> = {
  P: 'GenericTypeMetadataPattern',
  a: 'TypeMetadataAccessFunction',
  L: 'TypeMetadataLazyCache',
  m: 'Metaclass',
  n: 'NominalTypeDescriptor',
  f: 'FullTypeMetadata',
};

function readMetadata(reader: OldReader): SwiftNode {
  if (reader.takes('p')) return node('ProtocolDescriptor', typeNode(reader.protocolName()));
  const kind = Object.entries(metadata).find(([letter]) => reader.takes(letter))?.[1];
  if (kind === undefined) reader.takes('d');
  return node(kind ?? 'TypeMetadata', reader.type());
}

const tables: Readonly<Record<string, string>> = {
  P: 'ProtocolWitnessTable',
  G: 'GenericProtocolWitnessTable',
  I: 'GenericProtocolWitnessTableInstantiationFunction',
  a: 'ProtocolWitnessTableAccessor',
};

/** What stands behind `W`. */
function readWitness(reader: OldReader): SwiftNode {
  const letter = reader.next();
  const table = tables[letter];
  if (table !== undefined) return node(table, readConformance(reader));
  switch (letter) {
    case 'V':
      return node('ValueWitnessTable', reader.type());
    case 'v': {
      const directness = { d: 'direct', i: 'indirect' }[reader.next()];
      return node('FieldOffset', textNode('Directness', wanted(directness ?? null, 'an offset')), reader.entity());
    }
    case 'l':
    case 'L': {
      const type = reader.type();
      return node(
        letter === 'l' ? 'LazyProtocolWitnessTableAccessor' : 'LazyProtocolWitnessTableCacheVariable',
        type,
        readConformance(reader),
      );
    }
    case 't': {
      const conformance = readConformance(reader);
      return node('AssociatedTypeMetadataAccessor', conformance, reader.declarationName());
    }
    case 'T': {
      const conformance = readConformance(reader);
      const name = node('AssociatedPath', reader.declarationName());
      return node('AssociatedTypeWitnessTableAccessor', conformance, name, typeNode(reader.protocolName()));
    }
    default:
      throw new NotSwift('not a witness');
  }
}

function readConformance(reader: OldReader): SwiftNode {
  const type = reader.type();
  const protocol = typeNode(reader.protocolName());
  return node('ProtocolConformance', type, protocol, reader.context());
}

/** What stands behind `TT`. */
function readThunk(reader: OldReader): SwiftNode {
  switch (reader.next()) {
    case 'R':
      return readReabstraction(reader, 'ReabstractionThunkHelper');
    case 'r':
      return readReabstraction(reader, 'ReabstractionThunk');
    case 'W': {
      const conformance = readConformance(reader);
      return node('ProtocolWitness', conformance, reader.entity());
    }
    default:
      throw new NotSwift('not a thunk');
  }
}

function readReabstraction(reader: OldReader, kind: string): SwiftNode {
  const signature = reader.takes('G') ? [reader.genericSignature()] : [];
  const to = reader.type();
  return node(kind, reader.type(), to, ...signature);
}

/** What stands behind `TTS`: a copy of a function for some types, or with other parameters. */
function readSpecialization(reader: OldReader, nameOf: NameOf): SwiftNode {
  const letter = reader.next();
  const kinds: Readonly<Record<string, string>> = {
    g: 'GenericSpecialization',
    r: 'GenericSpecializationNotReAbstracted',
    f: 'FunctionSignatureSpecialization',
  };
  const kind = wanted(kinds[letter] ?? null, 'a specialization');
  const serialized = reader.takes('q') ? [textNode('Words', 'serialized')] : [];
  // Number of the optimiser's pass.
  if (!/\d/.test(reader.next())) throw new NotSwift('a pass has no number');
  return node(kind, ...serialized, ...(letter === 'f' ? readChanges(reader, nameOf) : readArguments(reader)));
}

/** Types, each with the conformances that it brings. */
function readArguments(reader: OldReader): SwiftNode[] {
  const types: SwiftNode[] = [];
  while (!reader.takes('_')) {
    const type = reader.type();
    const conformances: SwiftNode[] = [];
    while (!reader.takes('_')) conformances.push(textNode('Words', ' with '), readConformance(reader));
    types.push(node('Change', type, ...conformances));
  }
  return types;
}

const flags = { d: 'Dead', g: 'Owned To Guaranteed', o: 'Guaranteed To Owned', s: 'Exploded' } as const;

/** What became of each parameter. */
function readChanges(reader: OldReader, nameOf: NameOf): SwiftNode[] {
  const changes: SwiftNode[] = [];
  for (let at = 0; !reader.takes('_'); at++) {
    const change = readChange(reader, nameOf);
    if (change) changes.push(node('Change', textNode('Words', `Arg[${at}] = `), ...change));
  }
  return changes;
}

function readChange(reader: OldReader, nameOf: NameOf): SwiftNode[] | null {
  const words = (text: string): SwiftNode[] => [textNode('Words', text)];
  if (reader.takes('n_')) return null;
  if (reader.takes('i_')) return words('Value Promoted from Box');
  if (reader.takes('k_')) return words('Stack Promoted from Box');
  if (reader.takes('cp')) return words(`[Constant Propagated ${readConstant(reader, nameOf)}]`);
  if (reader.takes('cl')) {
    const name = nameOf(reader.identifier().text);
    const types: SwiftNode[] = [];
    while (!reader.takes('_')) types.push(...(types.length > 0 ? words(', ') : []), reader.type());
    return [...words(`[Closure Propagated : ${name}, Argument Types : [`), ...types, ...words(']')];
  }
  const found = Object.entries(flags).flatMap(([letter, text]) => (reader.takes(letter) ? [text] : []));
  if (found.length === 0) throw new NotSwift('not a change of a parameter');
  reader.expect('_');
  return words(found.join(' and '));
}

function readConstant(reader: OldReader, nameOf: NameOf): string {
  const upTo = (what: string, value: string) => {
    reader.expect('_');
    return `${what} : ${value}`;
  };
  if (reader.takes('fr')) return upTo('Function', nameOf(reader.identifier().text));
  if (reader.takes('g')) return upTo('Global', nameOf(reader.identifier().text));
  if (reader.takes('i')) return upTo('Integer', reader.upTo('_'));
  if (reader.takes('fl')) return upTo('Float', reader.upTo('_'));
  reader.expect('se');
  const encoding = wanted({ '0': 'u8', '1': 'u16' }[reader.next()] ?? null, 'an encoding');
  reader.expect('v');
  return upTo('String', `${encoding}'${reader.identifier().text}'`);
}
