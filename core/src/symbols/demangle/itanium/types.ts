import { readExpression } from './expressions.ts';
import { type Mangled, NotMangled } from './mangled.ts';
import { readDecltype, readName, readTemplateArguments, readTemplateParameter, readUnscopedName } from './names.ts';
import {
  ArrayType,
  FunctionType,
  MemberPointer,
  Name,
  type Node,
  ObjectiveCProtocol,
  PackExpansion,
  Pointer,
  Printed,
  Qualified,
  Reference,
  WithTemplateArguments,
} from './nodes.ts';
import { builtinTypes, furtherBuiltinTypes } from './operators.ts';

/** Section 5.1.5, "Type encodings". */
export const readType = (mangled: Mangled): Node => mangled.nested(() => type(mangled));

export function readQualifiers(mangled: Mangled): string {
  const restrict = mangled.takes('r') ? ' restrict' : '';
  const volatile = mangled.takes('V') ? ' volatile' : '';
  return (mangled.takes('K') ? ' const' : '') + volatile + restrict;
}

function type(mangled: Mangled): Node {
  const letter = mangled.look();
  switch (letter) {
    case 'r':
    case 'V':
    case 'K':
      return mangled.remember(startsFunctionBehindQualifiers(mangled) ? readFunctionType(mangled) : readQualifiedType(mangled));
    case 'U':
      return mangled.remember(readQualifiedType(mangled));
    case 'u':
      mangled.position++;
      return mangled.remember(readVendorType(mangled));
    case 'D':
      return readTypeWithD(mangled);
    case 'F':
      return mangled.remember(readFunctionType(mangled));
    case 'A':
      return mangled.remember(readArrayType(mangled));
    case 'M': {
      mangled.position++;
      const owner = readType(mangled);
      return mangled.remember(new MemberPointer(owner, readType(mangled)));
    }
    case 'T':
      return mangled.remember('sue'.includes(mangled.look(1) || '-') ? readClassType(mangled) : readParameterType(mangled));
    case 'P':
      mangled.position++;
      return mangled.remember(new Pointer(readType(mangled)));
    case 'R':
    case 'O':
      mangled.position++;
      return mangled.remember(new Reference(readType(mangled), letter === 'O'));
    case 'C':
    case 'G': {
      mangled.position++;
      const part = readType(mangled);
      return mangled.remember(
        new Printed((out) => {
          part.print(out);
          out.add(letter === 'C' ? ' complex' : ' imaginary');
        }),
      );
    }
    case 'S':
      if (mangled.look(1) !== 't') return readSubstitutedType(mangled);
      return mangled.remember(readClassType(mangled));
    default: {
      const builtin = builtinTypes[letter];
      if (builtin === undefined) return mangled.remember(readClassType(mangled));
      mangled.position++;
      return new Name(builtin);
    }
  }
}

function startsFunctionBehindQualifiers(mangled: Mangled): boolean {
  let ahead = 0;
  for (const qualifier of 'rVK') if (mangled.look(ahead) === qualifier) ahead++;
  return mangled.look(ahead) === 'F' || (mangled.look(ahead) === 'D' && 'oOwx'.includes(mangled.look(ahead + 1) || '-'));
}

function readSubstitutedType(mangled: Mangled): Node {
  const { node, isSubstitution } = readUnscopedName(mangled, null);
  if (mangled.look() === 'I' && (!isSubstitution || mangled.takesTemplateArguments)) {
    if (!isSubstitution) mangled.remember(node);
    return mangled.remember(new WithTemplateArguments(node, readTemplateArguments(mangled, false)));
  }
  return isSubstitution ? node : mangled.remember(node);
}

function readParameterType(mangled: Mangled): Node {
  const parameter = readTemplateParameter(mangled);
  if (!mangled.takesTemplateArguments || mangled.look() !== 'I') return parameter;
  mangled.remember(parameter);
  return new WithTemplateArguments(parameter, readTemplateArguments(mangled, false));
}

function readVendorType(mangled: Mangled): Node {
  const name = new Name(mangled.sourceText());
  if (!mangled.takes('I')) return name;
  const inner = readType(mangled);
  mangled.expect('E');
  return new Printed((out) => {
    name.print(out);
    out.open();
    inner.print(out);
    out.close();
  });
}

function readTypeWithD(mangled: Mangled): Node {
  const second = mangled.look(1);
  const builtin = furtherBuiltinTypes[second];
  if (builtin !== undefined) {
    mangled.position += 2;
    return new Name(builtin);
  }
  switch (second) {
    case 'F': {
      mangled.position += 2;
      if (mangled.takes('16b')) return new Name('std::bfloat16_t');
      const bits = mangled.number();
      if (!mangled.takes('x')) mangled.expect('_');
      return new Name(`_Float${bits}`);
    }
    case 'B':
    case 'U': {
      mangled.position += 2;
      const size = mangled.atDigit ? new Name(mangled.digits()) : readExpression(mangled);
      mangled.expect('_');
      return mangled.remember(
        new Printed((out) => {
          out.add(second === 'U' ? 'unsigned ' : '').add('_BitInt');
          out.open();
          size.print(out);
          out.close();
        }),
      );
    }
    case 'k':
    case 'K': {
      mangled.position += 2;
      const constraint = readName(mangled, null);
      return mangled.remember(
        new Printed((out) => {
          constraint.print(out);
          out.add(second === 'k' ? ' auto' : ' decltype(auto)');
        }),
      );
    }
    case 't':
    case 'T':
      return mangled.remember(readDecltype(mangled));
    case 'v':
      return mangled.remember(readVectorType(mangled));
    case 'p':
      mangled.position += 2;
      return mangled.remember(new PackExpansion(readType(mangled)));
    case 'o':
    case 'O':
    case 'w':
    case 'x':
      return mangled.remember(readFunctionType(mangled));
    default:
      return mangled.remember(readClassType(mangled));
  }
}

function readQualifiedType(mangled: Mangled): Node {
  return mangled.nested(() => {
    if (!mangled.takes('U')) {
      const qualifiers = readQualifiers(mangled);
      const child = readType(mangled);
      return qualifiers === '' ? child : new Qualified(child, qualifiers);
    }
    const qualifier = mangled.sourceText();
    const protocol = /^objcproto(\d+)(.*)$/.exec(qualifier);
    if (protocol) {
      const name = (protocol[2] as string).slice(0, Number(protocol[1]));
      if (name.length < Number(protocol[1])) throw new NotMangled();
      return new ObjectiveCProtocol(readQualifiedType(mangled), name);
    }
    const templateArguments = mangled.look() === 'I' ? readTemplateArguments(mangled, false) : null;
    const child = readQualifiedType(mangled);
    return new Printed((out) => {
      child.print(out);
      out.add(` ${qualifier}`);
      templateArguments?.print(out);
    });
  });
}

/** Section 5.1.5.3, "Function types". */
function readFunctionType(mangled: Mangled): Node {
  const qualifiers = readQualifiers(mangled);
  let exceptions: Node | null = null;
  if (mangled.takes('Do')) exceptions = new Name('noexcept');
  else if (mangled.takes('DO')) {
    const condition = readExpression(mangled);
    mangled.expect('E');
    exceptions = new Printed((out) => {
      out.add('noexcept');
      out.open();
      condition.printOperand(out);
      out.close();
    });
  } else if (mangled.takes('Dw')) {
    const types: Node[] = [];
    while (!mangled.takes('E')) types.push(readType(mangled));
    exceptions = new Printed((out) => {
      out.add('throw');
      out.open();
      out.list(types);
      out.close();
    });
  }
  mangled.takes('Dx');
  mangled.expect('F');
  mangled.takes('Y');
  const result = readType(mangled);
  const parameters: Node[] = [];
  let reference = '';
  for (;;) {
    if (mangled.takes('E')) break;
    if (mangled.takes('v')) continue;
    if (mangled.takes('RE')) {
      reference = '&';
      break;
    }
    if (mangled.takes('OE')) {
      reference = '&&';
      break;
    }
    parameters.push(readType(mangled));
  }
  return new FunctionType(result, parameters, qualifiers, reference, exceptions);
}

function readArrayType(mangled: Mangled): Node {
  mangled.expect('A');
  let dimension: Node | null = null;
  if (mangled.atDigit) {
    dimension = new Name(mangled.digits());
    mangled.expect('_');
  } else if (!mangled.takes('_')) {
    dimension = readExpression(mangled);
    mangled.expect('_');
  }
  return new ArrayType(readType(mangled), dimension);
}

function readVectorType(mangled: Mangled): Node {
  mangled.expect('Dv');
  let dimension: Node | null = null;
  if (mangled.atDigit) {
    dimension = new Name(mangled.digits());
    mangled.expect('_');
    if (mangled.takes('p')) {
      const pixels = dimension;
      return new Printed((out) => {
        out.add('pixel vector[');
        pixels.print(out);
        out.add(']');
      });
    }
  } else if (!mangled.takes('_')) {
    dimension = readExpression(mangled);
    mangled.expect('_');
  }
  const element = readType(mangled);
  return new Printed((out) => {
    element.print(out);
    out.add(' vector[');
    dimension?.print(out);
    out.add(']');
  });
}

function readClassType(mangled: Mangled): Node {
  const keyword = mangled.takes('Ts') ? 'struct ' : mangled.takes('Tu') ? 'union ' : mangled.takes('Te') ? 'enum ' : '';
  const name = readName(mangled, null);
  if (keyword === '') return name;
  return new Printed((out) => {
    out.add(keyword);
    name.print(out);
  });
}
