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

const spelled = (kind: OperatorKind, level: number, text: string): Operator => ({ kind, precedence: level, text });
const p = precedence;

/** Operators by their two letters: Itanium C++ ABI section 5.1.3, "Operator Encodings". */
export const operators: ReadonlyMap<string, Operator> = new Map([
  ['aN', spelled('binary', p.assign, '&=')],
  ['aS', spelled('binary', p.assign, '=')],
  ['aa', spelled('binary', p.logicalAnd, '&&')],
  ['ad', spelled('prefix', p.unary, '&')],
  ['an', spelled('binary', p.and, '&')],
  ['at', spelled('of-type', p.unary, 'alignof ')],
  ['aw', spelled('name-only', p.primary, ' co_await')],
  ['az', spelled('of-expression', p.unary, 'alignof ')],
  ['cc', spelled('named-cast', p.postfix, 'const_cast')],
  ['cl', spelled('call', p.postfix, '()')],
  ['cm', spelled('binary', p.comma, ',')],
  ['co', spelled('prefix', p.unary, '~')],
  ['cp', spelled('call', p.postfix, '()')],
  ['cv', spelled('c-cast', p.cast, '')],
  ['dV', spelled('binary', p.assign, '/=')],
  ['da', spelled('delete', p.unary, ' delete[]')],
  ['dc', spelled('named-cast', p.postfix, 'dynamic_cast')],
  ['de', spelled('prefix', p.unary, '*')],
  ['dl', spelled('delete', p.unary, ' delete')],
  ['ds', spelled('member', p.memberPointer, '.*')],
  ['dt', spelled('member', p.postfix, '.')],
  ['dv', spelled('binary', p.multiplicative, '/')],
  ['eO', spelled('binary', p.assign, '^=')],
  ['eo', spelled('binary', p.xor, '^')],
  ['eq', spelled('binary', p.equality, '==')],
  ['ge', spelled('binary', p.relational, '>=')],
  ['gt', spelled('binary', p.relational, '>')],
  ['ix', spelled('index', p.postfix, '[]')],
  ['lS', spelled('binary', p.assign, '<<=')],
  ['le', spelled('binary', p.relational, '<=')],
  ['ls', spelled('binary', p.shift, '<<')],
  ['lt', spelled('binary', p.relational, '<')],
  ['mI', spelled('binary', p.assign, '-=')],
  ['mL', spelled('binary', p.assign, '*=')],
  ['mi', spelled('binary', p.additive, '-')],
  ['ml', spelled('binary', p.multiplicative, '*')],
  ['mm', spelled('postfix', p.postfix, '--')],
  ['na', spelled('new', p.unary, ' new[]')],
  ['ne', spelled('binary', p.equality, '!=')],
  ['ng', spelled('prefix', p.unary, '-')],
  ['nt', spelled('prefix', p.unary, '!')],
  ['nw', spelled('new', p.unary, ' new')],
  ['oR', spelled('binary', p.assign, '|=')],
  ['oo', spelled('binary', p.logicalOr, '||')],
  ['or', spelled('binary', p.or, '|')],
  ['pL', spelled('binary', p.assign, '+=')],
  ['pl', spelled('binary', p.additive, '+')],
  ['pm', spelled('member', p.memberPointer, '->*')],
  ['pp', spelled('postfix', p.postfix, '++')],
  ['ps', spelled('prefix', p.unary, '+')],
  ['pt', spelled('member', p.postfix, '->')],
  ['qu', spelled('conditional', p.conditional, '?')],
  ['rM', spelled('binary', p.assign, '%=')],
  ['rS', spelled('binary', p.assign, '>>=')],
  ['rc', spelled('named-cast', p.postfix, 'reinterpret_cast')],
  ['rm', spelled('binary', p.multiplicative, '%')],
  ['rs', spelled('binary', p.shift, '>>')],
  ['sc', spelled('named-cast', p.postfix, 'static_cast')],
  ['ss', spelled('binary', p.spaceship, '<=>')],
  ['st', spelled('of-type', p.unary, 'sizeof ')],
  ['sz', spelled('of-expression', p.unary, 'sizeof ')],
  ['te', spelled('of-expression', p.postfix, 'typeid ')],
  ['ti', spelled('of-type', p.postfix, 'typeid ')],
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
