/** What can be taken out of texts, by the name of the rule that asks for it. Every pattern runs in time linear in the text. */
export interface KnownSecret {
  readonly rule: 'mail' | 'cards' | 'tokens' | 'ibans' | 'phones';
  /** In the mark that is left: `[removed: mail address]`. */
  readonly what: string;
  readonly pattern: RegExp;
  /** The parts before and behind what is taken, in the groups "before" and "behind", stay. */
  readonly isSecret?: (found: string) => boolean;
}

/** The at sign as it is, and as addresses, documents and other scripts write it. */
const at = '(?:[@＠]|%40|&#0{0,4}64;|&#x0{0,4}40;|&commat;)';
/** Between the digits of a number as people write it. */
const between = '[ .\\-_/\\u00a0\\u2009\\u202f]?';

/** The check digit of payment cards (ISO/IEC 7812-1, annex B). */
export function hasCheckDigit(digits: string): boolean {
  let sum = 0;
  for (let place = digits.length - 1, double = false; place >= 0; place--, double = !double) {
    const value = Number(digits[place]) * (double ? 2 : 1);
    sum += value > 9 ? value - 9 : value;
  }
  return sum % 10 === 0;
}

/** The check digits of bank accounts (ISO 13616-1, ISO/IEC 7064 MOD 97-10). */
export function isIban(text: string): boolean {
  const plain = text.replace(/[^A-Z0-9]/g, '');
  if (plain.length < 15 || plain.length > 34) return false;
  let rest = 0;
  for (const letter of plain.slice(4) + plain.slice(0, 4)) {
    const value = Number.parseInt(letter, 36);
    rest = (rest * (value > 9 ? 100 : 10) + value) % 97;
  }
  return rest === 1;
}

/** In the order in which they are taken out: a token may hold what looks like a number of a card. */
export const knownSecrets: readonly KnownSecret[] = [
  { rule: 'tokens', what: 'token', pattern: /(?<before>\b(?:Bearer|Basic)\s{1,3})[A-Za-z0-9+/._~-]{8,}=*/g },
  { rule: 'tokens', what: 'cookie', pattern: /(?<before>\b(?:set-)?cookie["']?\s{0,3}[:=]\s{0,3})[^\n\r]{2,4000}/gi },
  { rule: 'tokens', what: 'token', pattern: /(?<![\w-])eyJ[A-Za-z0-9_-]{6,800}\.[A-Za-z0-9_-]{2,2000}(?:\.[A-Za-z0-9_-]{0,1000})?/g },
  { rule: 'tokens', what: 'password', pattern: /(?<before>\b[a-z][a-z0-9+.-]{1,20}:\/\/[^\s:/@]{0,200}:)[^\s/@]{1,200}(?<behind>@)/gi },
  {
    rule: 'tokens',
    what: 'token',
    pattern:
      /(?<before>\b(?:api[_-]?key|access[_-]?token|refresh[_-]?token|auth[_-]?token|id[_-]?token|client[_-]?secret|session[_-]?id|token|password|passwd|pwd|secret)["']?\s{0,3}(?:[=:]|%3D)\s{0,3})(?:"[^"\n]{1,500}"|'[^'\n]{1,500}'|[^\s"'&,;]{3,500})/gi,
  },
  {
    rule: 'mail',
    what: 'mail address',
    pattern: new RegExp(`[\\p{L}\\p{N}._%+-]{1,64}${at}[\\p{L}\\p{N}-]{1,63}(?:\\.[\\p{L}\\p{N}-]{1,63}){0,4}\\.[\\p{L}]{2,24}`, 'gu'),
  },
  {
    rule: 'ibans',
    what: 'bank account',
    pattern: /(?<![\w.])[A-Z]{2}\d{2}(?:[ -]?[A-Z0-9]{4}){2,7}(?:[ -]?[A-Z0-9]{1,3})?(?!\w)/g,
    isSecret: isIban,
  },
  {
    // Card numbers begin with 2 to 6 and stand alone; addresses, ids and build numbers run into letters or a point.
    rule: 'cards',
    what: 'card number',
    pattern: new RegExp(`(?<![\\w.])[2-6](?:${between}\\d){12,18}(?![\\w]|\\.\\d)`, 'g'),
    isSecret: (found) => hasCheckDigit(found.replace(/\D/g, '')),
  },
  { rule: 'phones', what: 'phone number', pattern: /(?<![\w.])(?:\+|00)[1-9]\d{0,2}(?:[ ()./-]{0,2}\d){6,13}(?!\w)/g },
];

/** Signs that cannot be seen, and letters and digits of other widths: with them what is private is read by people, and by no pattern. */
const disguises = /[\u00ad\u200b-\u200f\u2060-\u2064\ufeff\uff01-\uff5e]/;
const invisible = /[\u00ad\u200b-\u200f\u2060-\u2064\ufeff]/g;

/** A text without its disguises; null when it wears none. */
export const undisguised = (text: string): string | null => (disguises.test(text) ? text.replace(invisible, '').normalize('NFKC') : null);
