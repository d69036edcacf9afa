/**
 * A floating literal, given as the digits of its bytes, in C's "%a" form with the suffix of its type; null when there are
 * too few digits. Of a `long double`, which no JavaScript number holds, the digits are shown.
 */
export function hexadecimalFloat(letter: 'f' | 'd' | 'e', digits: string): string | null {
  if (letter === 'e') return digits.length < 20 ? null : `0x${digits.slice(0, 20)}L`;
  const length = letter === 'f' ? 8 : 16;
  if (digits.length < length) return null;
  const bits = BigInt(`0x${digits.slice(0, length)}`);
  return letter === 'f' ? `${format(bits, 8, 23)}f` : format(bits, 11, 52);
}

function format(bits: bigint, exponentBits: number, fractionBits: number): string {
  const sign = bits >> BigInt(exponentBits + fractionBits) ? '-' : '';
  const exponent = Number((bits >> BigInt(fractionBits)) & ((1n << BigInt(exponentBits)) - 1n));
  let fraction = bits & ((1n << BigInt(fractionBits)) - 1n);
  const bias = 2 ** (exponentBits - 1) - 1;
  if (exponent === 2 ** exponentBits - 1) return sign + (fraction === 0n ? 'inf' : 'nan');
  if (exponent === 0 && fraction === 0n) return `${sign}0x0p+0`;
  // Hexadecimal digits stand for four bits each.
  const padding = (4 - (fractionBits % 4)) % 4;
  let power = exponent - bias;
  let leading = '1';
  if (exponent === 0) {
    power = 1 - bias;
    let shift = 0;
    while (!((fraction << BigInt(shift)) >> BigInt(fractionBits))) shift++;
    fraction = (fraction << BigInt(shift)) & ((1n << BigInt(fractionBits)) - 1n);
    power -= shift;
    leading = '1';
  }
  const text = (fraction << BigInt(padding))
    .toString(16)
    .padStart((fractionBits + padding) / 4, '0')
    .replace(/0+$/, '');
  return `${sign}0x${leading}${text === '' ? '' : `.${text}`}p${power < 0 ? '-' : '+'}${Math.abs(power)}`;
}
