const table = new Uint32Array(256).map((_, value) => {
  let remainder = value;
  for (let bit = 0; bit < 8; bit++) remainder = remainder & 1 ? (remainder >>> 1) ^ 0xedb88320 : remainder >>> 1;
  return remainder >>> 0;
});

/** CRC-32 as in ISO 3309 and gzip (RFC 1952 §8); `before` is the checksum of the bytes in front of these. */
export function crc32(bytes: Uint8Array, before = 0): number {
  let crc = before ^ 0xffffffff;
  for (let index = 0; index < bytes.length; index++) crc = (table[(crc ^ (bytes[index] as number)) & 0xff] as number) ^ (crc >>> 8);
  return (crc ^ 0xffffffff) >>> 0;
}
