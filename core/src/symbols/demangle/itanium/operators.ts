import { precedence } from './nodes.ts';

export type OperatorKind =
  | 'prefix'
  | 'postfix'
  | 'binary'
  | 'index'
  | 'member'
  | 'new'
  | 'delete'
  | 'call'
  | 'c-cast'
  | 'conditional'
  | 'named-cast'
  | 'of-type'
  | 'of-expression'
  | 'name-only';

export interface Operator {
  readonly kind: OperatorKind;
  readonly precedence: number;
  /** As written behind `operator`. */
  readonly text: string;
}

const entry = (kind: OperatorKind, level: number, text: string): Operator => ({ kind, precedence: level, text });
const p = precedence;

/** Operators by their two letters: Itanium C++ ABI section 5.1.3, "Operator Encodings". */
export const operators: ReadonlyMap<string, Operator> = new Map([
  ['aN', entry('binary', p.assign, '&=')],
  ['aS', entry('binary', p.assign, '=')],
  ['aa', entry('binary', p.logicalAnd, '&&')],
  ['ad', entry('prefix', p.unary, '&')],
  ['an', entry('binary', p.and, '&')],
  ['at', entry('of-type', p.unary, 'alignof ')],
  ['aw', entry('name-only', p.primary, ' co_await')],
  ['az', entry('of-expression', p.unary, 'alignof ')],
  ['cc', entry('named-cast', p.postfix, 'const_cast')],
  ['cl', entry('call', p.postfix, '()')],
  ['cm', entry('binary', p.comma, ',')],
  ['co', entry('prefix', p.unary, '~')],
  ['cp', entry('call', p.postfix, '()')],
  ['cv', entry('c-cast', p.cast, '')],
  ['dV', entry('binary', p.assign, '/=')],
  ['da', entry('delete', p.unary, ' delete[]')],
  ['dc', entry('named-cast', p.postfix, 'dynamic_cast')],
  ['de', entry('prefix', p.unary, '*')],
  ['dl', entry('delete', p.unary, ' delete')],
  ['ds', entry('member', p.memberPointer, '.*')],
  ['dt', entry('member', p.postfix, '.')],
  ['dv', entry('binary', p.multiplicative, '/')],
  ['eO', entry('binary', p.assign, '^=')],
  ['eo', entry('binary', p.xor, '^')],
  ['eq', entry('binary', p.equality, '==')],
  ['ge', entry('binary', p.relational, '>=')],
  ['gt', entry('binary', p.relational, '>')],
  ['ix', entry('index', p.postfix, '[]')],
  ['lS', entry('binary', p.assign, '<<=')],
  ['le', entry('binary', p.relational, '<=')],
  ['ls', entry('binary', p.shift, '<<')],
  ['lt', entry('binary', p.relational, '<')],
  ['mI', entry('binary', p.assign, '-=')],
  ['mL', entry('binary', p.assign, '*=')],
  ['mi', entry('binary', p.additive, '-')],
  ['ml', entry('binary', p.multiplicative, '*')],
  ['mm', entry('postfix', p.postfix, '--')],
  ['na', entry('new', p.unary, ' new[]')],
  ['ne', entry('binary', p.equality, '!=')],
  ['ng', entry('prefix', p.unary, '-')],
  ['nt', entry('prefix', p.unary, '!')],
  ['nw', entry('new', p.unary, ' new')],
  ['oR', entry('binary', p.assign, '|=')],
  ['oo', entry('binary', p.logicalOr, '||')],
  ['or', entry('binary', p.or, '|')],
  ['pL', entry('binary', p.assign, '+=')],
  ['pl', entry('binary', p.additive, '+')],
  ['pm', entry('member', p.memberPointer, '->*')],
  ['pp', entry('postfix', p.postfix, '++')],
  ['ps', entry('prefix', p.unary, '+')],
  ['pt', entry('member', p.postfix, '->')],
  ['qu', entry('conditional', p.conditional, '?')],
  ['rM', entry('binary', p.assign, '%=')],
  ['rS', entry('binary', p.assign, '>>=')],
  ['rc', entry('named-cast', p.postfix, 'reinterpret_cast')],
  ['rm', entry('binary', p.multiplicative, '%')],
  ['rs', entry('binary', p.shift, '>>')],
  ['sc', entry('named-cast', p.postfix, 'static_cast')],
  ['ss', entry('binary', p.spaceship, '<=>')],
  ['st', entry('of-type', p.unary, 'sizeof ')],
  ['sz', entry('of-expression', p.unary, 'sizeof ')],
  ['te', entry('of-expression', p.postfix, 'typeid ')],
  ['ti', entry('of-type', p.postfix, 'typeid ')],
]);

/** Builtin types of one letter: section 5.1.5.2. */
export const builtinTypes: Readonly<Record<string, string>> = {
  v: 'void',
  w: 'wchar_t',
  b: 'bool',
  c: 'char',
  a: 'signed char',
  h: 'unsigned char',
  s: 'short',
  t: 'unsigned short',
  i: 'int',
  j: 'unsigned int',
  l: 'long',
  m: 'unsigned long',
  x: 'long long',
  y: 'unsigned long long',
  n: '__int128',
  o: 'unsigned __int128',
  f: 'float',
  d: 'double',
  e: 'long double',
  g: '__float128',
  z: '...',
};

/** Builtin types of two letters, the first of which is D. */
export const furtherBuiltinTypes: Readonly<Record<string, string>> = {
  d: 'decimal64',
  e: 'decimal128',
  f: 'decimal32',
  h: 'half',
  i: 'char32_t',
  s: 'char16_t',
  u: 'char8_t',
  a: 'auto',
  c: 'decltype(auto)',
  n: 'std::nullptr_t',
};

/** What stands around an integer of a builtin type: a suffix, or a type in parentheses before it. */
export const integerForms: Readonly<Record<string, { prefix: string; suffix: string }>> = {
  w: { prefix: '(wchar_t)', suffix: '' },
  c: { prefix: '(char)', suffix: '' },
  a: { prefix: '(signed char)', suffix: '' },
  h: { prefix: '(unsigned char)', suffix: '' },
  s: { prefix: '(short)', suffix: '' },
  t: { prefix: '(unsigned short)', suffix: '' },
  i: { prefix: '', suffix: '' },
  j: { prefix: '', suffix: 'u' },
  l: { prefix: '', suffix: 'l' },
  m: { prefix: '', suffix: 'ul' },
  x: { prefix: '', suffix: 'll' },
  y: { prefix: '', suffix: 'ull' },
  n: { prefix: '(__int128)', suffix: '' },
  o: { prefix: '(unsigned __int128)', suffix: '' },
};

/** Abbreviated standard names: section 5.1.8. */
export const standardNames: Readonly<Record<string, readonly [short: string, full: string]>> = {
  a: ['std::allocator', 'std::allocator'],
  b: ['std::basic_string', 'std::basic_string'],
  s: ['std::string', 'std::basic_string<char, std::char_traits<char>, std::allocator<char>>'],
  i: ['std::istream', 'std::basic_istream<char, std::char_traits<char>>'],
  o: ['std::ostream', 'std::basic_ostream<char, std::char_traits<char>>'],
  d: ['std::iostream', 'std::basic_iostream<char, std::char_traits<char>>'],
};
