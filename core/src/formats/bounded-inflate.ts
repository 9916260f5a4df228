import { Unzlib } from 'fflate';

/** Bytes that unpack to more than what was announced. */
export class OverlongError extends Error {
  override name = 'OverlongError';
}

/**
 * Unpacks a zlib stream (RFC 1950) that should hold `size` bytes, and stops at the first byte more: a megabyte may be made
 * to hold a gigabyte. What ends sooner is as long as it is.
 * @param parts of the stream, in order
 * Throws {@link OverlongError}, or an Error for a stream that is damaged.
 */
export function inflateUpTo(parts: Iterable<Uint8Array>, size: number): Uint8Array {
  const out = new Uint8Array(size);
  let at = 0;
  const stream = new Unzlib((bytes) => {
    if (at + bytes.length > size) throw new OverlongError(`It unpacks to more than ${size} bytes.`);
    out.set(bytes, at);
    at += bytes.length;
  });
  // In small steps, because each is unpacked as a whole.
  for (const part of parts)
    for (let from = 0; from < part.length; from += STEP) stream.push(part.subarray(from, from + STEP));
  stream.push(new Uint8Array(0), true);
  return at < size ? out.subarray(0, at) : out;
}

/** Bytes that are unpacked at once: they become a thousand times as many at most. */
const STEP = 16384;
