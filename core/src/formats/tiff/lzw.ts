const [CLEAR, END, FIRST] = [256, 257, 258];
/** Codes have 9 to 12 bits: more entries than these the table cannot have. */
const MOST = 4096;

/**
 * Unpacks LZW as TIFF has it (TIFF 6.0, section 13): codes of 9 to 12 bits, the highest bit first, which grow one code
 * early. Stops when `size` bytes are there; what ends sooner is as long as it is. Throws an Error for a code that cannot
 * be there.
 */
export function unpackLzw(packed: Uint8Array, size: number): Uint8Array {
  const out = new Uint8Array(size);
  // An entry is an earlier one and a byte more; where it stands in the output is all that has to be known of it.
  const starts = new Uint32Array(MOST);
  const lengths = new Uint32Array(MOST);
  let at = 0;
  let next = FIRST;
  let width = 9;
  let last = -1;
  let [bits, held] = [0, 0];
  for (let i = 0; at < size;) {
    while (held < width) {
      if (i === packed.length) return out.subarray(0, at);
      bits = ((bits << 8) | packed[i++]!) & 0xffffff;
      held += 8;
    }
    const code = (bits >> (held - width)) & ((1 << width) - 1);
    held -= width;
    if (code === END) break;
    if (code === CLEAR) {
      next = FIRST;
      width = 9;
      last = -1;
      continue;
    }
    const start = at;
    if (code < CLEAR) out[at++] = code;
    else {
      if (code > next || code < FIRST || last < 0 || (code === next && next >= MOST))
        throw new Error('The LZW codes are damaged.');
      // One that is just being made is the last one and its own first byte.
      const from = code === next ? last : starts[code]!;
      const length = Math.min(size - at, code === next ? at - last + 1 : lengths[code]!);
      // Byte by byte: it may run into what it writes.
      for (let k = 0; k < length; k++) out[at + k] = out[from + k]!;
      at += length;
    }
    if (last >= 0 && next < MOST) {
      starts[next] = last;
      lengths[next] = start - last + 1;
      next++;
    }
    last = start;
    if (next + 1 >= 1 << width && width < 12) width++;
  }
  return at < size ? out.subarray(0, at) : out;
}
