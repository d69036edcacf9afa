const base = 36;
const tMin = 1;
const tMax = 26;
const skew = 38;
const damp = 700;

/**
 * Decodes Punycode (RFC 3492) with "_" in place of the last "-", as identifiers need it; `digitOf` gives the value of a
 * digit, which languages write differently, or -1. Gives code points, or null when it is none.
 */
export function decodePunycodeWith(text: string, digitOf: (code: number) => number): number[] | null {
  const mark = text.lastIndexOf('_');
  const points = mark > 0 ? [...text.slice(0, mark)].map((letter) => letter.codePointAt(0) as number) : [];
  let point = 128;
  let place = 0;
  let bias = 72;
  let at = mark + 1;
  if (at >= text.length) return null;
  while (at < text.length) {
    const before = place;
    let weight = 1;
    for (let limit = base; ; limit += base) {
      const digit = digitOf(text.charCodeAt(at++));
      if (digit < 0) return null;
      place += digit * weight;
      const threshold = limit <= bias ? tMin : limit >= bias + tMax ? tMax : limit - bias;
      if (digit < threshold) break;
      weight *= base - threshold;
      if (weight > 2 ** 40) return null;
    }
    const count = points.length + 1;
    let delta = Math.floor((place - before) / (before === 0 ? damp : 2));
    delta += Math.floor(delta / count);
    let steps = 0;
    for (; delta > ((base - tMin) * tMax) / 2; steps += base) delta = Math.floor(delta / (base - tMin));
    bias = steps + Math.floor(((base - tMin + 1) * delta) / (delta + skew));
    point += Math.floor(place / count);
    place %= count;
    if (point > 0x10ffff) return null;
    points.splice(place++, 0, point);
  }
  return points;
}
