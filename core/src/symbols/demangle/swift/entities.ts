import { readMacroExpansion } from './macros.ts';
import { indexNode, isContext, isDeclarationName, NotSwift, node, type SwiftNode, textNode, typeNode } from './node.ts';
import { type SwiftReader, wanted } from './reader.ts';
import { popFunctionType, popLabels } from './types.ts';

export function readExtension(reader: SwiftReader): SwiftNode {
  const signature = reader.pop('DependentGenericSignature');
  const module = wanted(reader.popModule(), 'a module');
  return node('Extension', module, reader.popNominal(), ...(signature ? [signature] : []));
}

export function readFunction(reader: SwiftReader): SwiftNode {
  const signature = reader.pop('DependentGenericSignature');
  const plain = popFunctionType(reader);
  const labels = popLabels(reader, plain);
  const type = signature ? typeNode(node('DependentGenericType', signature, plain)) : plain;
  const name = reader.wantIf(isDeclarationName, 'the name of a function');
  return node('Function', reader.popContext(), name, ...(labels ? [labels] : []), type);
}

const functionEntities: Readonly<
  Record<string, readonly [kind: string, further: 'nothing' | 'index' | 'type' | 'type and index' | 'name and type']>
> = {
  D: ['Deallocator', 'nothing'],
  d: ['Destructor', 'nothing'],
  Z: ['IsolatedDeallocator', 'nothing'],
  E: ['IVarDestroyer', 'nothing'],
  e: ['IVarInitializer', 'nothing'],
  i: ['Initializer', 'nothing'],
  P: ['PropertyWrapperBackingInitializer', 'nothing'],
  W: ['PropertyWrapperInitFromProjectedValue', 'nothing'],
  C: ['Allocator', 'type'],
  c: ['Constructor', 'type'],
  U: ['ExplicitClosure', 'type and index'],
  u: ['ImplicitClosure', 'type and index'],
  A: ['DefaultArgumentInitializer', 'index'],
  m: ['Macro', 'name and type'],
};

/** What stands behind `f`: functions that have no name of their own. */
export function readFunctionEntity(reader: SwiftReader): SwiftNode {
  if (reader.takes('M')) return readMacroExpansion(reader);
  const [kind, further] = wanted(functionEntities[reader.next()] ?? null, 'a function');
  switch (further) {
    case 'nothing':
      return node(kind, reader.popContext());
    case 'index': {
      const index = indexNode('Number', reader.index());
      return node(kind, reader.popContext(), index);
    }
    case 'name and type': {
      const type = reader.want('Type');
      const labels = popLabels(reader, type);
      const name = reader.wantIf(isDeclarationName, 'the name of a macro');
      return node(kind, reader.popContext(), name, ...(labels ? [labels] : []), type);
    }
    case 'type and index': {
      const index = indexNode('Number', reader.index());
      const type = reader.want('Type');
      return node(kind, reader.popContext(), index, type);
    }
    case 'type': {
      const name = reader.pop('PrivateDeclName');
      const type = reader.want('Type');
      const labels = popLabels(reader, type);
      return node(kind, reader.popContext(), ...(labels ? [labels] : []), type, ...(name ? [name] : []));
    }
  }
}

export function readVariable(reader: SwiftReader): SwiftNode {
  const type = reader.want('Type');
  const labels = popLabels(reader, type);
  const name = reader.wantIf(isDeclarationName, 'the name of a variable');
  return readAccessor(reader, node('Variable', reader.popContext(), name, ...(labels ? [labels] : []), type));
}

export function readSubscript(reader: SwiftReader): SwiftNode {
  const name = reader.pop('PrivateDeclName');
  const type = reader.want('Type');
  const labels = popLabels(reader, type);
  return readAccessor(reader, node('Subscript', reader.popContext(), ...(labels ? [labels] : []), type, ...(name ? [name] : [])));
}

const accessors: Readonly<Record<string, string>> = {
  m: 'MaterializeForSet',
  s: 'Setter',
  g: 'Getter',
  G: 'GlobalGetter',
  w: 'WillSet',
  W: 'DidSet',
  r: 'ReadAccessor',
  y: 'Read2Accessor',
  M: 'ModifyAccessor',
  x: 'Modify2Accessor',
  i: 'InitAccessor',
  aO: 'OwningMutableAddressor',
  ao: 'NativeOwningMutableAddressor',
  aP: 'NativePinningMutableAddressor',
  au: 'UnsafeMutableAddressor',
  lO: 'OwningAddressor',
  lo: 'NativeOwningAddressor',
  lp: 'NativePinningAddressor',
  lu: 'UnsafeAddressor',
};

function readAccessor(reader: SwiftReader, storage: SwiftNode): SwiftNode {
  const letter = reader.next();
  if (letter === 'p') return storage;
  const code = letter === 'a' || letter === 'l' ? letter + reader.next() : letter;
  return node(wanted(accessors[code] ?? null, 'an accessor'), storage);
}

/** What stands behind `L`: names that are local, private or made for an imported type. */
export function readLocalName(reader: SwiftReader): SwiftNode {
  if (reader.takes('L')) {
    const discriminator = reader.want('Identifier');
    return node('PrivateDeclName', discriminator, reader.wantIf(isDeclarationName, 'a private name'));
  }
  if (reader.takes('l')) return node('PrivateDeclName', reader.want('Identifier'));
  if (/[a-jA-J]/.test(reader.peek())) {
    const relation = textNode('Identifier', reader.next());
    return node('RelatedEntityDeclName', relation, reader.want());
  }
  const index = indexNode('Number', reader.index());
  return node('LocalDeclName', index, reader.wantIf(isDeclarationName, 'a local name'));
}

const operatorLetters = '& @/= >    <*!|+?%-~   ^ .';

export function readOperatorName(reader: SwiftReader): SwiftNode {
  const { text } = reader.want('Identifier');
  const name = [...text]
    .map((letter) => (letter.charCodeAt(0) > 127 ? letter : (operatorLetters[letter.charCodeAt(0) - 97] ?? ' ')))
    .join('');
  if (name.includes(' ')) throw new NotSwift('not an operator');
  const kind = { i: 'InfixOperator', p: 'PrefixOperator', P: 'PostfixOperator' }[reader.next()];
  return textNode(wanted(kind ?? null, 'an operator'), name);
}

/** How a type conforms to a protocol. */
export function popConformance(reader: SwiftReader): SwiftNode {
  const signature = reader.pop('DependentGenericSignature');
  const module = wanted(reader.popModule(), 'a module');
  const protocol = reader.popProtocol();
  const type = reader.want('Type');
  return node('ProtocolConformance', signature ? typeNode(node('DependentGenericType', signature, type)) : type, protocol, module);
}

const conformanceKinds = ['ConcreteConformance', 'DependentConformance', 'ConformanceRef'];
const popAnyConformance = (reader: SwiftReader): SwiftNode => reader.want(...conformanceKinds);

/** What stands behind `H`: references to conformances, which generic arguments carry along and no printed name shows. */
export function readConformance(reader: SwiftReader): SwiftNode {
  switch (reader.next()) {
    case 'P':
    case 'p':
      return node('ConformanceRef', reader.popProtocol());
    case 'C': {
      reader.popList(() => popAnyConformance(reader));
      const reference = reader.pop('ConformanceRef');
      if (!reference) {
        wanted(reader.popModule(), 'a module');
        reader.popProtocol();
      }
      return node('ConcreteConformance', reader.want('Type'));
    }
    case 'D':
      reader.index();
      reader.popProtocol();
      return node('DependentConformance', reader.want('Type'));
    case 'A':
      reader.index();
      reader.popProtocol();
      reader.want('Type');
      return node('DependentConformance', popAnyConformance(reader));
    case 'I':
      reader.index();
      reader.popProtocol();
      return node('DependentConformance', popAnyConformance(reader));
    case 'c':
      return node('ProtocolConformanceDescriptorRecord', popConformance(reader));
    case 'n':
      return node('NominalTypeDescriptorRecord', reader.want('Type'));
    case 'r':
      return node('ProtocolDescriptorRecord', reader.popProtocol());
    case 'o':
      return node('OpaqueTypeDescriptorRecord', reader.want());
    case 'F':
      return node('AccessibleFunctionRecord');
    default:
      throw new NotSwift('not a conformance');
  }
}

export function readRetroactive(reader: SwiftReader): SwiftNode {
  const index = indexNode('Number', reader.index());
  return node('RetroactiveConformance', index, popAnyConformance(reader));
}

export const readStatic = (reader: SwiftReader): SwiftNode =>
  node(
    'Static',
    reader.wantIf((one) => isContext(one), 'a member'),
  );
