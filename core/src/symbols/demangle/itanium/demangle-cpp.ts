import { Mangled, NotMangled } from './mangled.ts';
import { readEncoding } from './names.ts';
import { printNode } from './nodes.ts';
import { NameTooLong } from './output.ts';

const maximumLetters = 32 * 1024;

/**
 * A C++ name in the words of its source; null when the name is none, or not one this grammar knows.
 * Itanium C++ ABI section 5.1, <https://itanium-cxx-abi.github.io/cxx-abi/abi.html#mangling>.
 *
 * @example demangleCpp('_ZN4lark8Detector5countEl') === 'lark::Detector::count(long)'
 */
export function demangleCpp(name: string): string | null {
  if (name.length > maximumLetters) return null;
  const keyed = /^_{1,2}GLOBAL_[._$]([DI])_(.+)$/.exec(name);
  if (keyed) return `global ${keyed[1] === 'I' ? 'constructors' : 'destructors'} keyed to ${demangleCpp(keyed[2] as string) ?? keyed[2]}`;
  // Tools of Apple take an underscore away that the name had none of to spare.
  const match = /^(?:_{1,4}Z|Z(?=N[KVr]?\d))/.exec(name);
  if (!match) return null;
  try {
    const mangled = new Mangled(name.slice(match[0].length));
    const node = readEncoding(mangled);
    // The runtime of Apple's blocks: a function that holds the code of a block in another one.
    if (mangled.takes('_block_invoke')) {
      const hasNumber = mangled.takes('_');
      if (hasNumber || mangled.atDigit) mangled.digits();
      return `invocation function for block in ${printNode(node)}${rest(mangled)}`;
    }
    if (!mangled.atEnd && mangled.look() !== '.') return null;
    return printNode(node) + rest(mangled);
  } catch (error) {
    if (error instanceof NotMangled || error instanceof NameTooLong) return null;
    throw error;
  }
}

/** What a compiler puts behind a copy of a function, such as ".isra.0", in brackets. */
const rest = (mangled: Mangled): string => (mangled.look() === '.' ? ` (${mangled.text.slice(mangled.position)})` : '');
