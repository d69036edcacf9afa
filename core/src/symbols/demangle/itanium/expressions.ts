import { hexadecimalFloat } from './float-text.ts';
import { type Mangled, NotMangled } from './mangled.ts';
import {
  readDecltype,
  readEncoding,
  readOperatorName,
  readSubstitution,
  readTemplateArgument,
  readTemplateArguments,
  readTemplateParameter,
  readUnnamedType,
} from './names.ts';
import { Name, type Node, PackExpansion, Printed, precedence, WithTemplateArguments } from './nodes.ts';
import { integerForms, type Operator, operators } from './operators.ts';
import type { Output } from './output.ts';
import { readQualifiers, readType } from './types.ts';

/** Section 5.1.6, "Expressions". */
export const readExpression = (mangled: Mangled): Node => mangled.nested(() => expression(mangled));

const printed = (print: (out: Output) => void, level: number = precedence.primary): Node => new Printed(print, () => '', level);

function expression(mangled: Mangled): Node {
  const isGlobal = mangled.takes('gs');
  const operator = operators.get(mangled.look() + mangled.look(1));
  if (operator && !(isGlobal && operator.kind !== 'new' && operator.kind !== 'delete')) {
    mangled.position += 2;
    return readOperation(mangled, operator, isGlobal);
  }
  const letter = mangled.look();
  if (letter === 'L') return readPrimary(mangled);
  if (letter === 'T') return readTemplateParameter(mangled);
  if (letter === 'f') {
    const second = mangled.look(1);
    return second === 'p' || (second === 'L' && /\d/.test(mangled.look(2))) ? readFunctionParameter(mangled) : readFold(mangled);
  }
  if (mangled.takes('il')) return readBraces(mangled, null);
  if (mangled.takes('tl')) return readBraces(mangled, readType(mangled));
  if (mangled.takes('mc')) return readMemberConversion(mangled);
  if (mangled.takes('nx')) return enclosing('noexcept ', readExpression(mangled), precedence.unary);
  if (mangled.takes('so')) return readSubobject(mangled);
  if (mangled.takes('sP')) return readSizeOfArguments(mangled);
  if (mangled.takes('sZ')) return readSizeOfPack(mangled);
  if (mangled.takes('sp')) return new PackExpansion(readExpression(mangled));
  if (mangled.takes('tr')) return new Name('throw');
  if (mangled.takes('tw')) {
    const thrown = readExpression(mangled);
    return printed((out) => {
      out.add('throw ');
      thrown.print(out);
    });
  }
  if (mangled.takes('rq') || mangled.takes('rQ')) return readRequires(mangled);
  if (mangled.look() === 'd' && 'iXx'.includes(mangled.look(1) || '-')) return readBracedDesignation(mangled);
  if (mangled.takes('u')) return readVendorExpression(mangled);
  return readUnresolvedName(mangled, isGlobal);
}

function readMemberConversion(mangled: Mangled): Node {
  const type = readType(mangled);
  const inner = readExpression(mangled);
  mangled.digits(true);
  mangled.expect('E');
  return printed((out) => {
    out.open();
    type.print(out);
    out.close();
    out.open();
    inner.print(out);
    out.close();
  }, precedence.cast);
}

function readSizeOfArguments(mangled: Mangled): Node {
  const elements: Node[] = [];
  while (!mangled.takes('E')) elements.push(readTemplateArgument(mangled));
  return printed((out) => {
    out.add('sizeof... ');
    out.open();
    out.list(elements);
    out.close();
  });
}

function readSizeOfPack(mangled: Mangled): Node {
  if (mangled.look() !== 'T') return enclosing('sizeof... ', readFunctionParameter(mangled), precedence.primary);
  const pack = readTemplateParameter(mangled);
  return printed((out) => {
    out.add('sizeof...');
    out.open();
    new PackExpansion(pack).print(out);
    out.close();
  });
}

type ReadOperation = (mangled: Mangled, operator: Operator, isGlobal: boolean) => Node;

const readOperation: ReadOperation = (mangled, operator, isGlobal) => operations[operator.kind](mangled, operator, isGlobal);

/** How an operator of each kind is read behind its two letters, and printed. */
const operations: Readonly<Record<Operator['kind'], ReadOperation>> = {
  binary: (mangled, { text, precedence: level }) => binary(readExpression(mangled), text, readExpression(mangled), level),
  prefix: (mangled, { text, precedence: level }) => {
    const operand = readExpression(mangled);
    return printed((out) => {
      out.add(text);
      operand.printOperand(out, level);
    }, level);
  },
  postfix: (mangled, { text, precedence: level }) => {
    // The prefix form is told by an underscore.
    const isPrefix = mangled.takes('_');
    const operand = readExpression(mangled);
    return printed((out) => {
      if (isPrefix) out.add(text);
      operand.printOperand(out, level, true);
      if (!isPrefix) out.add(text);
    }, level);
  },
  index: (mangled, { precedence: level }) => {
    const [base, index] = [readExpression(mangled), readExpression(mangled)];
    return printed((out) => {
      base.printOperand(out, level);
      out.open('[');
      index.printOperand(out);
      out.close(']');
    }, level);
  },
  member: (mangled, { text, precedence: level }) => {
    const [base, member] = [readExpression(mangled), readExpression(mangled)];
    return printed((out) => {
      base.printOperand(out, level, true);
      out.add(text);
      member.printOperand(out, level, false);
    }, level);
  },
  new: (mangled, { text, precedence: level }, isGlobal) => readNew(mangled, isGlobal, text, level),
  delete: (mangled, { text, precedence: level }, isGlobal) => {
    const operand = readExpression(mangled);
    return printed((out) => {
      out.add(`${isGlobal ? '::' : ''}${text.trimStart()} `);
      operand.print(out);
    }, level);
  },
  call: (mangled, { precedence: level }) => {
    const callee = readExpression(mangled);
    const values = readExpressions(mangled);
    return printed((out) => {
      callee.print(out);
      out.open();
      out.list(values);
      out.close();
    }, level);
  },
  'c-cast': (mangled, { precedence: level }) => readConversion(mangled, level),
  conditional: (mangled, { precedence: level }) => {
    const [condition, yes, no] = [readExpression(mangled), readExpression(mangled), readExpression(mangled)];
    return printed((out) => {
      condition.printOperand(out, level);
      out.add(' ? ');
      yes.printOperand(out);
      out.add(' : ');
      no.printOperand(out, precedence.assign, true);
    }, level);
  },
  'named-cast': (mangled, { text, precedence: level }) => {
    const [type, operand] = [readType(mangled), readExpression(mangled)];
    return printed((out) => {
      out.add(text);
      out.insideTemplateArguments(() => {
        out.add('<');
        type.left(out);
        type.right(out);
        out.add('>');
      });
      out.open();
      operand.printOperand(out);
      out.close();
    }, level);
  },
  'of-type': (mangled, { text, precedence: level }) => enclosing(text, readType(mangled), level),
  'of-expression': (mangled, { text, precedence: level }) => enclosing(text, readExpression(mangled), level),
  'name-only': () => {
    throw new NotMangled();
  },
};

const enclosing = (words: string, inner: Node, level: number): Node =>
  printed((out) => {
    out.add(words);
    out.open();
    inner.print(out);
    out.close();
  }, level);

function binary(left: Node, text: string, right: Node, level: number): Node {
  return printed((out) => {
    const wrapped = out.isGreaterAmbiguous && (text === '>' || text === '>>');
    if (wrapped) out.open();
    const isAssignment = level === precedence.assign;
    left.printOperand(out, isAssignment ? precedence.logicalOr : level, !isAssignment);
    out.add(text === ',' ? ', ' : ` ${text} `);
    right.printOperand(out, level, isAssignment);
    if (wrapped) out.close();
  }, level);
}

function readExpressions(mangled: Mangled): Node[] {
  const list: Node[] = [];
  while (!mangled.takes('E')) list.push(readExpression(mangled));
  return list;
}

function readNew(mangled: Mangled, isGlobal: boolean, text: string, level: number): Node {
  const placement: Node[] = [];
  while (!mangled.takes('_')) placement.push(readExpression(mangled));
  const type = readType(mangled);
  const values = mangled.takes('pi') ? readExpressions(mangled) : null;
  if (!values) mangled.expect('E');
  return printed((out) => {
    out.add((isGlobal ? '::' : '') + text.trimStart());
    if (placement.length > 0) {
      out.open();
      out.list(placement);
      out.close();
    }
    out.add(' ');
    type.print(out);
    if (values && values.length > 0) {
      out.open();
      out.list(values);
      out.close();
    }
  }, level);
}

function readConversion(mangled: Mangled, level: number): Node {
  const { takesTemplateArguments } = mangled;
  mangled.takesTemplateArguments = false;
  const type = readType(mangled);
  mangled.takesTemplateArguments = takesTemplateArguments;
  const values = mangled.takes('_') ? readExpressions(mangled) : [readExpression(mangled)];
  return printed((out) => {
    out.open();
    type.print(out);
    out.close();
    out.open();
    out.list(values);
    out.close();
  }, level);
}

function readBraces(mangled: Mangled, type: Node | null): Node {
  const values = readExpressions(mangled);
  return printed((out) => {
    type?.print(out);
    out.add('{');
    out.list(values);
    out.add('}');
  });
}

function readBracedDesignation(mangled: Mangled): Node {
  if (mangled.takes('di')) {
    const field = new Name(mangled.sourceText());
    return new Designation((out) => out.add(`.${field.text}`), readExpression(mangled));
  }
  if (mangled.takes('dx')) {
    const index = readExpression(mangled);
    return new Designation((out) => {
      out.add('[');
      index.print(out);
      out.add(']');
    }, readExpression(mangled));
  }
  mangled.expect('dX');
  const [first, last] = [readExpression(mangled), readExpression(mangled)];
  return new Designation((out) => {
    out.add('[');
    first.print(out);
    out.add(' ... ');
    last.print(out);
    out.add(']');
  }, readExpression(mangled));
}

/** A place in braces and what stands there; `.row[3] = 1` is one within another. */
class Designation extends Printed {
  constructor(place: (out: Output) => void, value: Node) {
    super((out) => {
      place(out);
      if (!(value instanceof Designation)) out.add(' = ');
      value.print(out);
    });
  }
}

function readSubobject(mangled: Mangled): Node {
  const type = readType(mangled);
  const base = readExpression(mangled);
  const offset = mangled.digits(true);
  while (mangled.takes('_')) mangled.digits();
  mangled.takes('p');
  mangled.expect('E');
  return printed((out) => {
    base.print(out);
    out.add('.<');
    type.print(out);
    out.add(` at offset ${offset === '' ? '0' : offset}>`);
  });
}

/** One requirement: of an expression, of a type, or of a constraint. */
function readRequirement(mangled: Mangled): Node {
  if (mangled.takes('X')) {
    const inner = readExpression(mangled);
    const isNoexcept = mangled.takes('N');
    const type = mangled.takes('R') ? readType(mangled) : null;
    return printed((out) => {
      out.add(' ');
      if (isNoexcept || type) out.add('{');
      inner.print(out);
      if (isNoexcept || type) out.add('}');
      if (isNoexcept) out.add(' noexcept');
      if (type) {
        out.add(' -> ');
        type.print(out);
      }
      out.add(';');
    });
  }
  if (mangled.takes('T')) {
    const type = readType(mangled);
    return printed((out) => {
      out.add(' typename ');
      type.print(out);
      out.add(';');
    });
  }
  mangled.expect('Q');
  const inner = readExpression(mangled);
  return printed((out) => {
    out.add(' requires ');
    inner.print(out);
    out.add(';');
  });
}

function readRequires(mangled: Mangled): Node {
  const parameters: Node[] = [];
  if (mangled.text[mangled.position - 1] === 'Q') {
    while (!mangled.takes('_')) parameters.push(readType(mangled));
  }
  const requirements: Node[] = [];
  do {
    requirements.push(readRequirement(mangled));
  } while (!mangled.takes('E'));
  return printed((out) => {
    out.add('requires');
    if (parameters.length > 0) {
      out.add(' ');
      out.open();
      out.list(parameters);
      out.close();
    }
    out.add(' ');
    out.open('{');
    for (const requirement of requirements) requirement.print(out);
    out.add(' ');
    out.close('}');
  });
}

function readVendorExpression(mangled: Mangled): Node {
  const name = mangled.sourceText();
  if (name === '__uuidof') {
    const isType = mangled.takes('t');
    if (!isType) mangled.expect('z');
    const inner = isType ? readType(mangled) : readExpression(mangled);
    return printed((out) => {
      out.add('__uuidof');
      out.open();
      inner.print(out);
      out.close();
    });
  }
  const values: Node[] = [];
  while (!mangled.takes('E')) values.push(readTemplateArgument(mangled));
  return printed((out) => {
    out.add(name);
    out.open();
    out.list(values);
    out.close();
  });
}

function readFunctionParameter(mangled: Mangled): Node {
  if (mangled.takes('fpT')) return new Name('this');
  if (mangled.takes('fL')) {
    mangled.digits();
    mangled.expect('p');
  } else mangled.expect('fp');
  readQualifiers(mangled);
  const number = mangled.digits();
  mangled.expect('_');
  return new Name(`fp${number}`);
}

function readFold(mangled: Mangled): Node {
  mangled.expect('f');
  const kind = mangled.look();
  if (!'lrLR'.includes(kind || '-')) throw new NotMangled();
  mangled.position++;
  const operator = operators.get(mangled.look() + mangled.look(1));
  if (!operator || !(operator.kind === 'binary' || (operator.kind === 'member' && operator.text.endsWith('*')))) throw new NotMangled();
  mangled.position += 2;
  const isLeft = kind === 'l' || kind === 'L';
  let pack = readExpression(mangled);
  let start: Node | null = null;
  if (kind === 'L' || kind === 'R') {
    start = readExpression(mangled);
    if (isLeft) [pack, start] = [start, pack];
  }
  const printPack = (out: Output) => {
    out.open();
    new PackExpansion(pack).print(out);
    out.close();
  };
  return printed((out) => {
    out.open();
    if (!isLeft || start) {
      if (isLeft) (start as Node).printOperand(out, precedence.cast, true);
      else printPack(out);
      out.add(` ${operator.text} `);
    }
    out.add('...');
    if (isLeft || start) {
      out.add(` ${operator.text} `);
      if (isLeft) printPack(out);
      else (start as Node).printOperand(out, precedence.cast, true);
    }
    out.close();
  });
}

/** Literals: section 5.1.6.1, `<expr-primary>`. */
function readPrimary(mangled: Mangled): Node {
  mangled.expect('L');
  const letter = mangled.look();
  if (mangled.takes('b0E')) return new Name('false');
  if (mangled.takes('b1E')) return new Name('true');
  const integer = integerForms[letter];
  if (integer) {
    mangled.position++;
    const digits = mangled.digits(true);
    mangled.expect('E');
    if (digits === '') throw new NotMangled();
    return printed((out) => out.add(integer.prefix + digits + integer.suffix));
  }
  if (letter === 'f' || letter === 'd' || letter === 'e') {
    mangled.position++;
    const digits = /^[0-9a-f]*/.exec(mangled.text.slice(mangled.position, mangled.position + 40))?.[0] ?? '';
    const text = hexadecimalFloat(letter, digits);
    if (text === null) throw new NotMangled();
    mangled.position += digits.length;
    mangled.expect('E');
    return new Name(text);
  }
  if (mangled.takes('_Z')) {
    const encoded = readEncoding(mangled);
    mangled.expect('E');
    return encoded;
  }
  if (letter === 'A') {
    const type = readType(mangled);
    mangled.expect('E');
    return printed((out) => {
      out.add('"<');
      type.print(out);
      out.add('>"');
    });
  }
  if (mangled.takes('DnE') || mangled.takes('Dn0E')) return new Name('nullptr');
  if (letter === 'U' && mangled.look(1) === 'l') {
    const lambda = readUnnamedType(mangled, null);
    mangled.expect('E');
    return printed((out) => {
      out.add('[]');
      lambda.print(out);
      out.add('{...}');
    });
  }
  const type = readType(mangled);
  const digits = mangled.digits(true);
  mangled.expect('E');
  if (digits === '') throw new NotMangled();
  return printed((out) => {
    out.open();
    type.print(out);
    out.close();
    out.add(digits);
  });
}

/** `<unresolved-name>`. */
function readUnresolvedName(mangled: Mangled, isGlobal: boolean): Node {
  const nest = (scope: Node | null, name: Node): Node =>
    printed((out) => {
      scope?.print(out);
      if (scope || isGlobal) out.add('::');
      name.print(out);
    });
  if (mangled.takes('srN')) {
    let scope = readUnresolvedType(mangled);
    if (mangled.look() === 'I') scope = new WithTemplateArguments(scope, readTemplateArguments(mangled, false));
    while (!mangled.takes('E')) scope = nest(scope, readSimpleId(mangled));
    return nest(scope, readBaseUnresolvedName(mangled));
  }
  if (!mangled.takes('sr')) {
    const base = readBaseUnresolvedName(mangled);
    return isGlobal ? nest(null, base) : base;
  }
  let scope: Node | null = null;
  if (mangled.atDigit) {
    do {
      const id = readSimpleId(mangled);
      scope = scope || isGlobal ? nest(scope, id) : id;
    } while (!mangled.takes('E'));
  } else {
    scope = readUnresolvedType(mangled);
    if (mangled.look() === 'I') scope = new WithTemplateArguments(scope, readTemplateArguments(mangled, false));
  }
  const [outer, base] = [scope, readBaseUnresolvedName(mangled)];
  return printed((out) => {
    outer?.print(out);
    out.add('::');
    base.print(out);
  });
}

function readUnresolvedType(mangled: Mangled): Node {
  if (mangled.look() === 'T') return mangled.remember(readTemplateParameter(mangled));
  if (mangled.look() === 'D') return mangled.remember(readDecltype(mangled));
  return readSubstitution(mangled);
}

function readSimpleId(mangled: Mangled): Node {
  const name = new Name(mangled.sourceText());
  return mangled.look() === 'I' ? new WithTemplateArguments(name, readTemplateArguments(mangled, false)) : name;
}

function readBaseUnresolvedName(mangled: Mangled): Node {
  if (mangled.atDigit) return readSimpleId(mangled);
  if (mangled.takes('dn')) {
    const inner = mangled.atDigit ? readSimpleId(mangled) : readUnresolvedType(mangled);
    return printed((out) => {
      out.add('~');
      inner.print(out);
    });
  }
  mangled.takes('on');
  const operator = readOperatorName(mangled, null);
  return mangled.look() === 'I' ? new WithTemplateArguments(operator, readTemplateArguments(mangled, false)) : operator;
}
