/** Numbers of the terms of a report as they are stored: ascending, each as its distance from the one before, in LEB128. */
export function packTermIds(ids: readonly number[]): Uint8Array {
  const bytes: number[] = [];
  let before = 0;
  for (const id of [...ids].sort((a, b) => a - b)) {
    let distance = id - before;
    before = id;
    while (distance > 0x7f) {
      bytes.push((distance & 0x7f) | 0x80);
      distance = Math.floor(distance / 128);
    }
    bytes.push(distance);
  }
  return Uint8Array.from(bytes);
}

/** Reads what `packTermIds` wrote; bytes that break off are left out. */
export function unpackTermIds(bytes: Uint8Array): number[] {
  const ids: number[] = [];
  let id = 0;
  let distance = 0;
  let factor = 1;
  for (const byte of bytes) {
    distance += (byte & 0x7f) * factor;
    if (byte >= 0x80) factor *= 128;
    else {
      id += distance;
      ids.push(id);
      distance = 0;
      factor = 1;
    }
  }
  return ids;
}
