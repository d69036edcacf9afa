interface FloatForm {
  readonly exponentBits: number;
  readonly fractionBits: number;
  /** Whether the digit before the point is stored too, as the x87 format does. */
  readonly storesLeading?: boolean;
  readonly suffix: string;
}

/** By letter of the type and count of hexadecimal digits: IEEE 754 binary32, binary64, binary128, and x87's 80 bits. */
const forms: Readonly<Record<string, FloatForm>> = {
  f8: { exponentBits: 8, fractionBits: 23, suffix: 'f' },
  d16: { exponentBits: 11, fractionBits: 52, suffix: '' },
  e20: { exponentBits: 15, fractionBits: 63, storesLeading: true, suffix: 'L' },
  e32: { exponentBits: 15, fractionBits: 112, suffix: 'L' },
};

/** A floating literal, given as the digits of its bytes, in C's "%a" form with the suffix of its type; null when their count fits no form. */
export function hexadecimalFloat(letter: 'f' | 'd' | 'e', digits: string): string | null {
  const form = forms[letter + digits.length];
  if (!form) return null;
  const { exponentBits, fractionBits, storesLeading = false, suffix } = form;
  const bits = BigInt(`0x${digits}`);
  const storedBits = BigInt(fractionBits + (storesLeading ? 1 : 0));
  const sign = bits >> (BigInt(exponentBits) + storedBits) ? '-' : '';
  const exponent = Number((bits >> storedBits) & ((1n << BigInt(exponentBits)) - 1n));
  const stored = bits & ((1n << storedBits) - 1n);
  const fraction = stored & ((1n << BigInt(fractionBits)) - 1n);
  const bias = 2 ** (exponentBits - 1) - 1;
  if (exponent === 2 ** exponentBits - 1) return `${sign}${fraction === 0n ? 'inf' : 'nan'}${suffix}`;
  if (exponent === 0 && stored === 0n) return `${sign}0x0p+0${suffix}`;
  const power = (exponent === 0 ? 1 : exponent) - bias;
  // What stands before the point: one bit, or with x87 the first four of the stored ones.
  if (storesLeading) return `${sign}0x${spelled(stored, 64, 60)}p${signed(power - 3)}${suffix}`;
  // A float is printed as the double that it becomes, which is never too small for a leading 1.
  if (letter === 'f' && exponent === 0) {
    const shift = fractionBits + 1 - fraction.toString(2).length;
    return `${sign}0x${spelled(fraction << BigInt(shift), fractionBits + 1, fractionBits)}p${signed(power - shift)}${suffix}`;
  }
  const whole = exponent === 0 ? fraction : fraction | (1n << BigInt(fractionBits));
  return `${sign}0x${spelled(whole, fractionBits + 1, fractionBits)}p${signed(power)}${suffix}`;
}

/** A number of `bits` bits in hexadecimal, of which the last `behindPoint` stand behind the point. */
function spelled(value: bigint, bits: number, behindPoint: number): string {
  const padding = (4 - (behindPoint % 4)) % 4;
  const digits = (value << BigInt(padding)).toString(16).padStart(Math.ceil((bits + padding) / 4), '0');
  const places = (behindPoint + padding) / 4;
  const behind = digits.slice(digits.length - places).replace(/0+$/, '');
  return digits.slice(0, digits.length - places) + (behind === '' ? '' : `.${behind}`);
}

const signed = (power: number): string => `${power < 0 ? '-' : '+'}${Math.abs(power)}`;
