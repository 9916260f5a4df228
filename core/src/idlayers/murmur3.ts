/**
 * MurmurHash3, x86, 32 bits (Austin Appleby, public domain): the hash of the Cryptomatte specification.
 * @returns an unsigned 32-bit number
 */
export function murmur3(bytes: Uint8Array, seed = 0): number {
  const scramble = (k: number): number => {
    k = Math.imul(k, 0xcc9e2d51);
    return Math.imul((k << 15) | (k >>> 17), 0x1b873593);
  };
  let h = seed;
  const whole = bytes.length & ~3;
  for (let i = 0; i < whole; i += 4) {
    h ^= scramble(bytes[i]! | (bytes[i + 1]! << 8) | (bytes[i + 2]! << 16) | (bytes[i + 3]! << 24));
    h = (h << 13) | (h >>> 19);
    h = (Math.imul(h, 5) + 0xe6546b64) | 0;
  }
  let tail = 0;
  for (let i = bytes.length - 1; i >= whole; i--) tail = (tail << 8) | bytes[i]!;
  if (bytes.length > whole) h ^= scramble(tail);
  h ^= bytes.length;
  h = Math.imul(h ^ (h >>> 16), 0x85ebca6b);
  h = Math.imul(h ^ (h >>> 13), 0xc2b2ae35);
  return (h ^ (h >>> 16)) >>> 0;
}
