/**
 * Unpacks PackBits (TIFF 6.0, section 9): a byte n from 0 to 127 announces n + 1 bytes as they are, one from −127 to −1 a
 * byte that stands for 1 − n of them, −128 nothing. Stops when `size` bytes are there; what ends sooner is as long as it is.
 */
export function unpackBits(packed: Uint8Array, size: number): Uint8Array {
  const out = new Uint8Array(size);
  let at = 0;
  for (let i = 0; i < packed.length && at < size;) {
    const n = (packed[i++]! << 24) >> 24;
    if (n === -128) continue;
    if (n >= 0) {
      const part = packed.subarray(i, i + Math.min(n + 1, size - at));
      out.set(part, at);
      at += part.length;
      i += n + 1;
    } else {
      const count = Math.min(1 - n, size - at);
      out.fill(packed[i++] ?? 0, at, at + count);
      at += count;
    }
  }
  return at < size ? out.subarray(0, at) : out;
}
