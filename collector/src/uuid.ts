/** A random UUID (RFC 9562, version 4); runtimes without `crypto` get one that is random enough to be unique. */
export function uuid(): string {
  const { crypto } = globalThis;
  if (crypto?.randomUUID) return crypto.randomUUID();
  const bytes = crypto?.getRandomValues
    ? crypto.getRandomValues(new Uint8Array(16))
    : Uint8Array.from({ length: 16 }, () => Math.random() * 256);
  bytes[6] = ((bytes[6] as number) & 0x0f) | 0x40;
  bytes[8] = ((bytes[8] as number) & 0x3f) | 0x80;
  const digits = [...bytes].map((byte) => byte.toString(16).padStart(2, '0')).join('');
  return digits.replace(/^(.{8})(.{4})(.{4})(.{4})(.{12})$/, '$1-$2-$3-$4-$5');
}
