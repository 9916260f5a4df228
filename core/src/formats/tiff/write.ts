import type { Zlib } from '../exr/compression/compression.ts';
import { portableZlib } from '../exr/portable-zlib.ts';
import type { SampleRaster } from '../sample-raster.ts';

/** Rows of a strip hold about so many bytes. */
const STRIP = 256 * 1024;
const [SHORT, LONG, UNDEFINED] = [3, 4, 7];

/**
 * Writes a baseline TIFF (TIFF 6.0) of 8 or 16 bits or 32-bit floating point, little-endian, packed by deflate (TIFF
 * Technical Note 2). Written by hand because packages that write TIFF put a map's coordinates into it.
 * @param profile an ICC profile to embed
 */
export function writeTiff(
  { width, height, channels, data, premultiplied = false }: SampleRaster,
  { profile, zlib = portableZlib }: { profile?: Uint8Array | undefined; zlib?: Zlib | undefined } = {},
): Uint8Array {
  const bytes = data.BYTES_PER_ELEMENT;
  const row = width * channels * bytes;
  const rows = Math.max(1, Math.min(height, Math.floor(STRIP / row)));
  const all = new Uint8Array(data.buffer, data.byteOffset, data.byteLength);
  const strips: Uint8Array[] = [];
  for (let y = 0; y < height; y += rows)
    strips.push(zlib.deflate(all.subarray(y * row, Math.min(height, y + rows) * row)));
  const each = (v: number) => Array.from({ length: channels }, () => v);
  const entries: [tag: number, type: number, values: readonly number[] | Uint8Array][] = [
    [256, LONG, [width]],
    [257, LONG, [height]],
    [258, SHORT, each(8 * bytes)],
    [259, SHORT, [8]],
    [262, SHORT, [channels === 1 ? 1 : 2]],
    [273, LONG, strips.map(() => 0)],
    [277, SHORT, [channels]],
    [278, LONG, [rows]],
    [279, LONG, strips.map((s) => s.length)],
    [284, SHORT, [1]],
    ...(channels === 4 ? [[338, SHORT, [premultiplied ? 1 : 2]] as [number, number, number[]]] : []),
    [339, SHORT, each(data instanceof Float32Array ? 3 : 1)],
    ...(profile ? [[34675, UNDEFINED, profile] as [number, number, Uint8Array]] : []),
  ];
  const sizeOf = (type: number) => (type === SHORT ? 2 : type === LONG ? 4 : 1);
  const directory = 8;
  const after = directory + 2 + 12 * entries.length + 4;
  // Where each entry's values stand, if they do not fit into it.
  let at = after;
  const places = entries.map(([, type, values]) => {
    const size = sizeOf(type) * values.length;
    if (size <= 4) return undefined;
    const place = at;
    at += size + (size % 2);
    return place;
  });
  const starts = strips.map((s) => {
    const start = at;
    at += s.length + (s.length % 2);
    return start;
  });
  const out = new Uint8Array(at);
  const view = new DataView(out.buffer);
  out.set([0x49, 0x49, 42, 0]);
  view.setUint32(4, directory, true);
  view.setUint16(directory, entries.length, true);
  entries.forEach(([tag, type, values], i) => {
    const entry = directory + 2 + 12 * i;
    view.setUint16(entry, tag, true);
    view.setUint16(entry + 2, type, true);
    view.setUint32(entry + 4, values.length, true);
    let to = places[i] ?? entry + 8;
    if (places[i] !== undefined) view.setUint32(entry + 8, places[i]!, true);
    for (const v of tag === 273 ? starts : values) {
      if (type === SHORT) view.setUint16(to, v, true);
      else if (type === LONG) view.setUint32(to, v, true);
      else out[to] = v;
      to += sizeOf(type);
    }
  });
  strips.forEach((s, i) => out.set(s, starts[i]));
  return out;
}
