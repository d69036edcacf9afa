const hash = /^h[0-9a-f]{16}$/;
const escaped = /\$(?:SP|BP|RF|LT|GT|LP|RP|C|u[0-9a-f]{1,6})\$|\.\./;

const escapes: Readonly<Record<string, string>> = { SP: '@', BP: '*', RF: '&', LT: '<', GT: '>', LP: '(', RP: ')', C: ',' };

/**
 * A Rust name of the older mangling, which looks like C++ but ends in a hash; null when it is none. Without the hash, as
 * the compiler prints it in its own stack traces. Some tools take the hash away, or the underscore in front; what has neither
 * parameters behind it nor the hash is known by letters that only Rust writes, or by that.
 */
export function demangleRustLegacy(name: string): string | null {
  const start = /^_{0,2}ZN(?=\d)/.exec(name);
  if (!start) return null;
  const parts: string[] = [];
  let at = start[0].length;
  for (;;) {
    if (name[at] === 'E') break;
    const digits = /^[1-9]\d{0,4}/.exec(name.slice(at, at + 6));
    if (!digits) return null;
    at += digits[0].length;
    const part = name.slice(at, at + Number(digits[0]));
    if (part.length !== Number(digits[0])) return null;
    parts.push(part);
    at += part.length;
  }
  const rest = name.slice(at + 1);
  if (parts.length < 2 || !(rest === '' || rest.startsWith('.'))) return null;
  const hasHash = hash.test(parts.at(-1) as string);
  if (!hasHash && start[0] !== 'ZN' && !parts.some((part) => escaped.test(part))) return null;
  const shown = parts.slice(0, hasHash ? -1 : undefined).map(withoutEscapes);
  return shown.some((part) => part === null) ? null : shown.join('::');
}

function withoutEscapes(part: string): string | null {
  let text = '';
  let rest = part.startsWith('_$') ? part.slice(1) : part;
  while (rest !== '') {
    if (rest.startsWith('..')) {
      text += '::';
      rest = rest.slice(2);
    } else if (rest[0] === '.') {
      text += '.';
      rest = rest.slice(1);
    } else if (rest[0] === '$') {
      const end = rest.indexOf('$', 1);
      if (end < 0) return null;
      const code = rest.slice(1, end);
      const letter = escapes[code] ?? codePoint(code);
      if (letter === null) return null;
      text += letter;
      rest = rest.slice(end + 1);
    } else {
      const end = /[.$]/.exec(rest)?.index ?? rest.length;
      text += rest.slice(0, end);
      rest = rest.slice(end);
    }
  }
  return text;
}

function codePoint(code: string): string | null {
  const match = /^u([0-9a-f]{1,6})$/.exec(code);
  const value = match ? Number.parseInt(match[1] as string, 16) : -1;
  return value >= 0x20 && value <= 0x10ffff && value !== 0x7f ? String.fromCodePoint(value) : null;
}
