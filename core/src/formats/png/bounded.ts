import { ExrError } from '../exr/errors.ts';
import { inflateUpTo } from '../bounded-inflate.ts';
import { signedWith, type PngChunk } from './chunks.ts';

/** Samples of a pixel as they are stored, by colour type: of a palette it is the number of a colour. */
const STORED: Record<number, number> = { 0: 1, 2: 3, 3: 1, 4: 2, 6: 4 };
/** First column and row, and steps, of the seven pictures of an interlaced one (PNG, 8.2). */
const ADAM7 = [
  [0, 0, 8, 8],
  [4, 0, 8, 8],
  [0, 4, 4, 8],
  [2, 0, 4, 4],
  [0, 2, 2, 4],
  [1, 0, 2, 2],
  [0, 1, 1, 2],
] as const;
const SIGNATURE = 8;

/** Bytes of all rows, unpacked, each with its filter; undefined for a header that says nonsense. */
function unpackedSize(header: Uint8Array): number | undefined {
  const view = new DataView(header.buffer, header.byteOffset, header.length);
  const [width, height] = [view.getUint32(0), view.getUint32(4)];
  const [depth, kind, interlaced] = [header[8]!, header[9]!, header[12]!];
  const samples = STORED[kind];
  if (!samples || interlaced > 1) return undefined;
  const passes = interlaced ? ADAM7 : [[0, 0, 1, 1] as const];
  return passes.reduce((sum, [x, y, across, down]) => {
    const columns = Math.ceil((width - x) / across);
    const rows = Math.ceil((height - y) / down);
    return columns > 0 && rows > 0 ? sum + rows * (1 + Math.ceil((columns * samples * depth) / 8)) : sum;
  }, 0);
}

/**
 * A PNG with the same pixels that is safe to hand to a decoder: its rows are unpacked here, up to what its header allows,
 * and stand there as they are; of the other chunks only those stay that pixels depend on. Throws {@link ExrError}
 * `damaged`.
 */
export function boundedPng(bytes: Uint8Array): Uint8Array {
  const damaged = () => new ExrError('damaged', 'The PNG file cannot be unpacked. Copy or save it again.');
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const kept: PngChunk[] = [];
  const packed: Uint8Array[] = [];
  for (let at = SIGNATURE; at + 12 <= bytes.length;) {
    const length = view.getUint32(at);
    const name = String.fromCharCode(...bytes.subarray(at + 4, at + 8));
    const end = at + 12 + length;
    // The last rows of a file that was cut off are unpacked as far as they go, and then missed.
    const data = bytes.subarray(at + 8, Math.min(bytes.length, end - 4));
    if (name === 'IEND') break;
    if (name === 'IDAT') packed.push(data);
    else if (name === 'IHDR' || name === 'PLTE' || name === 'tRNS') kept.push({ name, data });
    at = end;
  }
  const header = kept[0];
  const size = header?.name === 'IHDR' && header.data.length === 13 ? unpackedSize(header.data) : undefined;
  if (size === undefined) throw damaged();
  let rows: Uint8Array;
  try {
    rows = inflateUpTo(packed, size);
  } catch {
    throw damaged();
  }
  if (rows.length < size)
    throw new ExrError('truncated', 'The picture ends too soon. It was not written completely.');
  return signedWith([
    ...kept,
    { name: 'IDAT', data: stored(rows) },
    { name: 'IEND', data: new Uint8Array(0) },
  ]);
}

/** Bytes as a zlib stream of blocks that are not packed (RFC 1951, 3.2.4). */
function stored(bytes: Uint8Array): Uint8Array {
  const LONGEST = 65535;
  const blocks = Math.max(1, Math.ceil(bytes.length / LONGEST));
  const out = new Uint8Array(2 + 5 * blocks + bytes.length + 4);
  out.set([0x78, 0x01]);
  let at = 2;
  let [low, high] = [1, 0];
  for (let i = 0; i < blocks; i++) {
    const part = bytes.subarray(i * LONGEST, (i + 1) * LONGEST);
    const n = part.length;
    out.set([i === blocks - 1 ? 1 : 0, n & 255, n >> 8, ~n & 255, (~n >> 8) & 255], at);
    out.set(part, at + 5);
    at += 5 + n;
    // Adler-32 (RFC 1950, 8): sums modulo the largest prime below 65536, taken before they are too large.
    for (let k = 0; k < n;) {
      for (const stop = Math.min(n, k + 3800); k < stop; k++) high += low += part[k]!;
      low %= 65521;
      high %= 65521;
    }
  }
  new DataView(out.buffer).setUint32(at, high * 65536 + low);
  return out;
}
