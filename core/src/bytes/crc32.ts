/** Eight tables, so that eight bytes are taken in one step; table k stands for a byte that k more bytes follow. Signed, as bit operations are. */
const tables: Int32Array[] = [];
for (let followed = 0; followed < 8; followed++)
  tables.push(
    new Int32Array(256).map((_, value) => {
      const before = tables[followed - 1];
      if (before) return ((tables[0] as Int32Array)[(before[value] as number) & 0xff] as number) ^ ((before[value] as number) >>> 8);
      let remainder = value;
      for (let bit = 0; bit < 8; bit++) remainder = remainder & 1 ? (remainder >>> 1) ^ 0xedb88320 : remainder >>> 1;
      return remainder;
    }),
  );
const [t0, t1, t2, t3, t4, t5, t6, t7] = tables as [
  Int32Array,
  Int32Array,
  Int32Array,
  Int32Array,
  Int32Array,
  Int32Array,
  Int32Array,
  Int32Array,
];

/** CRC-32 as in ISO 3309 and gzip (RFC 1952 §8); `before` is the checksum of the bytes in front of these. */
export function crc32(bytes: Uint8Array, before = 0): number {
  let crc = before ^ 0xffffffff;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const whole = bytes.length - (bytes.length % 8);
  let index = 0;
  for (; index < whole; index += 8) {
    const low = crc ^ view.getInt32(index, true);
    const high = view.getInt32(index + 4, true);
    crc =
      (t7[low & 0xff] as number) ^
      (t6[(low >>> 8) & 0xff] as number) ^
      (t5[(low >>> 16) & 0xff] as number) ^
      (t4[low >>> 24] as number) ^
      (t3[high & 0xff] as number) ^
      (t2[(high >>> 8) & 0xff] as number) ^
      (t1[(high >>> 16) & 0xff] as number) ^
      (t0[high >>> 24] as number);
  }
  for (; index < bytes.length; index++) crc = (t0[(crc ^ (bytes[index] as number)) & 0xff] as number) ^ (crc >>> 8);
  return (crc ^ 0xffffffff) >>> 0;
}
