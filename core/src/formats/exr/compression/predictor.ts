/**
 * The byte shuffle that RLE, ZIPS and ZIP share: even and odd bytes are split into two halves, then each byte
 * is replaced by its difference from the one before, plus 128.
 */
export function unshuffle(coded: Uint8Array): Uint8Array {
  const size = coded.length;
  const raw = new Uint8Array(size);
  const half = (size + 1) >> 1;
  // The sum runs on across the halves, so both are undone in one pass each, writing straight to their places.
  let last = size > 0 ? coded[0]! : 0;
  if (size > 0) raw[0] = last;
  for (let i = 1; i < half; i++) {
    last = (last + coded[i]! - 128) & 255;
    raw[2 * i] = last;
  }
  for (let i = half; i < size; i++) {
    last = (last + coded[i]! - 128) & 255;
    raw[2 * (i - half) + 1] = last;
  }
  return raw;
}

/** The reverse of {@link unshuffle}. */
export function shuffle(raw: Uint8Array): Uint8Array {
  const size = raw.length;
  const coded = new Uint8Array(size);
  const half = (size + 1) >> 1;
  let last = 128;
  let at = 0;
  for (let start = 0; start < 2; start++)
    for (let i = start; i < size; i += 2) {
      const value = raw[i]!;
      coded[at++] = value - last + 128;
      last = value;
    }
  // The very first byte stands for itself.
  if (half > 0) coded[0] = raw[0]!;
  return coded;
}
