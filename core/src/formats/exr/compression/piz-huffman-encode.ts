/**
 * PIZ's Huffman code, the way there. The words of a block are counted, each gets a code by Huffman's method, codes are
 * made canonical (of one length they follow each other, longer ones come first), and repeats are written as a symbol
 * of their own with a count. Format facts: OpenEXR file layout document.
 */
const SHORT_ZERO_RUN = 59;
const LONG_ZERO_RUN = 63;
const SHORTEST_LONG_RUN = 6;
const LONGEST_ZERO_RUN = 255 + SHORTEST_LONG_RUN;
const MOST_REPEATS = 255;

/** Bits, most significant first. */
class BitWriter {
  private bytes = new Uint8Array(65536);
  private held = 0;
  private count = 0;
  bits = 0;
  private at = 0;

  /** Up to 53 bits of a whole number. */
  write(value: number, length: number): void {
    this.bits += length;
    for (let left = length; left > 0;) {
      const part = Math.min(left, 16);
      left -= part;
      this.held = (this.held << part) | (Math.floor(value / 2 ** left) & ((1 << part) - 1));
      this.count += part;
      while (this.count >= 8) {
        this.count -= 8;
        this.push(this.held >>> this.count);
      }
      this.held &= (1 << this.count) - 1;
    }
  }
  private push(byte: number): void {
    if (this.at === this.bytes.length) {
      const more = new Uint8Array(this.bytes.length * 2);
      more.set(this.bytes);
      this.bytes = more;
    }
    this.bytes[this.at++] = byte;
  }
  done(): Uint8Array {
    if (this.count > 0) this.push(this.held << (8 - this.count));
    this.count = 0;
    return this.bytes.subarray(0, this.at);
  }
}

/** Lengths of Huffman codes by how often each symbol occurs: the two rarest are joined until one is left. */
function codeLengths(counts: ReadonlyMap<number, number>): Map<number, number> {
  const leaves = [...counts].sort((a, b) => a[1] - b[1] || a[0] - b[0]);
  if (leaves.length === 1) return new Map([[leaves[0]![0], 1]]);
  // Leaves and joined nodes both rise in weight, so the rarest is the first of one of two queues.
  const n = leaves.length;
  const weight = new Float64Array(2 * n - 1);
  const parent = new Int32Array(2 * n - 1).fill(-1);
  leaves.forEach(([, count], i) => (weight[i] = count));
  let leaf = 0;
  let joined = n;
  for (let node = n; node < 2 * n - 1; node++) {
    let sum = 0;
    for (let k = 0; k < 2; k++) {
      const at = leaf < n && (joined >= node || weight[leaf]! <= weight[joined]!) ? leaf++ : joined++;
      parent[at] = node;
      sum += weight[at]!;
    }
    weight[node] = sum;
  }
  const depth = new Uint8Array(2 * n - 1);
  for (let node = 2 * n - 3; node >= 0; node--) depth[node] = depth[parent[node]!]! + 1;
  return new Map(leaves.map(([symbol], i) => [symbol, depth[i]!]));
}

function writeLengths(
  out: BitWriter,
  lengths: ReadonlyMap<number, number>,
  first: number,
  last: number,
): void {
  for (let symbol = first; symbol <= last; symbol++) {
    const length = lengths.get(symbol);
    if (length !== undefined) {
      out.write(length, 6);
      continue;
    }
    let run = 1;
    while (run < LONGEST_ZERO_RUN && symbol + run <= last && !lengths.has(symbol + run)) run++;
    if (run >= SHORTEST_LONG_RUN) {
      out.write(LONG_ZERO_RUN, 6);
      out.write(run - SHORTEST_LONG_RUN, 8);
    } else if (run >= 2) out.write(SHORT_ZERO_RUN + run - 2, 6);
    else out.write(0, 6);
    symbol += run - 1;
  }
}

/** Packs 16-bit words; what {@link unhuff} undoes. */
export function huff(words: Uint16Array): Uint8Array {
  if (words.length === 0) return new Uint8Array(0);
  const histogram = new Uint32Array(65536);
  for (const word of words) histogram[word]!++;
  const counts = new Map<number, number>();
  histogram.forEach((count, word) => {
    if (count) counts.set(word, count);
  });
  const first = Math.min(...counts.keys());
  // The symbol after the last one means: repeat.
  const repeat = Math.max(...counts.keys()) + 1;
  counts.set(repeat, 1);
  const lengths = codeLengths(counts);

  const many = new Float64Array(60);
  for (const length of lengths.values()) many[length]!++;
  const next = new Float64Array(60);
  let code = 0;
  for (let length = 58; length > 0; length--) {
    next[length] = code;
    code = Math.floor((code + many[length]!) / 2);
  }
  const codeOf = new Float64Array(65537);
  const lengthOf = new Uint8Array(65537);
  for (let symbol = first; symbol <= repeat; symbol++) {
    const length = lengths.get(symbol);
    if (length === undefined) continue;
    codeOf[symbol] = next[length]!++;
    lengthOf[symbol] = length;
  }

  const table = new BitWriter();
  writeLengths(table, lengths, first, repeat);
  const tableBytes = table.done();
  const data = new BitWriter();
  const repeatBits = lengthOf[repeat]! + 8;
  for (let i = 0; i < words.length;) {
    const word = words[i]!;
    let repeats = 0;
    while (repeats < MOST_REPEATS && i + 1 + repeats < words.length && words[i + 1 + repeats] === word)
      repeats++;
    const length = lengthOf[word]!;
    data.write(codeOf[word]!, length);
    if (repeatBits < length * repeats) {
      data.write(codeOf[repeat]!, lengthOf[repeat]!);
      data.write(repeats, 8);
    } else for (let k = 0; k < repeats; k++) data.write(codeOf[word]!, length);
    i += 1 + repeats;
  }
  const bits = data.bits;
  const dataBytes = data.done();
  const out = new Uint8Array(20 + tableBytes.length + dataBytes.length);
  const view = new DataView(out.buffer);
  view.setUint32(0, first, true);
  view.setUint32(4, repeat, true);
  view.setUint32(8, tableBytes.length, true);
  view.setUint32(12, bits, true);
  out.set(tableBytes, 20);
  out.set(dataBytes, 20 + tableBytes.length);
  return out;
}
