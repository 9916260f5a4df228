import type { ExrChannel, ExrImage } from '../../src/formats/exr/types.ts';
import { asFloats } from '../../src/formats/exr/samples.ts';
import { floatsToHalves } from '../../src/planes/half.ts';

/** A cryptomatte's channels: its name, the number of the layer, and which of the layer's two ranks. */
const RANK = /^(\w*(?:Crypto|Reflected|Refracted)\w*?)(\d\d)\.([RGBA])$/;

/** Keeps so many bits of a number's fraction: what is rounded takes less room in a file. */
function rounded(plane: Float32Array, bits: number): Float32Array {
  const out = plane.slice();
  const words = new Uint32Array(out.buffer);
  const lost = 23 - bits;
  for (let i = 0; i < words.length; i++) words[i] = (words[i]! + (1 << (lost - 1))) & ~((1 << lost) - 1);
  return out;
}

/** Means of squares of `step` pixels. */
function means(plane: Float32Array, width: number, height: number, step: number): Float32Array {
  const [w, h] = [width / step, height / step];
  const out = new Float32Array(w * h);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      out[Math.floor(y / step) * w + Math.floor(x / step)]! += plane[y * width + x]! / step ** 2;
  return out;
}

/** Coverages are kept to a 128th. */
const COVERAGE = 128;

/** Ranks of squares of `step` pixels: what each ID covers of them all, the most first. */
function ranksOf(planes: readonly Float32Array[], width: number, height: number, step: number) {
  const [w, h] = [width / step, height / step];
  const out = planes.map(() => new Float32Array(w * h));
  const ids = planes.map((p) => new Uint32Array(p.buffer, p.byteOffset, p.length));
  const outIds = out.map((p) => new Uint32Array(p.buffer));
  for (let q = 0; q < w * h; q++) {
    const sums = new Map<number, number>();
    for (let i = 0; i < step ** 2; i++) {
      const x = (q % w) * step + (i % step);
      const y = Math.floor(q / w) * step + Math.floor(i / step);
      for (let k = 0; k < planes.length; k += 2) {
        const id = ids[k]![y * width + x]!;
        if (id !== 0) sums.set(id, (sums.get(id) ?? 0) + planes[k + 1]![y * width + x]! / step ** 2);
      }
    }
    const most = [...sums].sort((a, b) => b[1] - a[1]).slice(0, planes.length / 2);
    const parts = most.map(([, coverage]) => Math.round(coverage * COVERAGE));
    const whole = Math.round(most.reduce((sum, [, coverage]) => sum + coverage, 0) * COVERAGE);
    // What rounding gives and takes is the first one's, so that the sum stays what it is.
    if (parts.length) parts[0]! += whole - parts.reduce((a, b) => a + b);
    most.forEach(([id], rank) => {
      if (parts[rank] === 0) return;
      outIds[2 * rank]![q] = id;
      out[2 * rank + 1]![q] = parts[rank]! / COVERAGE;
    });
  }
  return out;
}

/**
 * A rendered frame of fewer and rounder pixels: light and data are means, ID layers are ranked anew.
 * @param step how many pixels across and down become one; must divide the size
 * @param bits of the fraction that light and data keep
 */
export function reduced(image: ExrImage, step: number, bits: (channel: string) => number): ExrImage {
  const { xMin, yMin, xMax, yMax } = image.header.dataWindow;
  const [width, height] = [xMax - xMin + 1, yMax - yMin + 1];
  const box = { xMin: 0, yMin: 0, xMax: width / step - 1, yMax: height / step - 1 };
  const layers = new Map<string, ExrChannel[]>();
  for (const c of image.channels) {
    const layer = RANK.exec(c.name)?.[1];
    if (layer) layers.set(layer, [...(layers.get(layer) ?? []), c]);
  }
  const made = new Map<string, Float32Array>();
  for (const channels of layers.values()) {
    const place = (name: string) => {
      const [, , number, letter] = RANK.exec(name)!;
      return 4 * Number(number) + 'RGBA'.indexOf(letter!);
    };
    const ordered = [...channels].sort((a, b) => place(a.name) - place(b.name));
    ranksOf(
      ordered.map((c) => c.data as Float32Array),
      width,
      height,
      step,
    ).forEach((plane, i) => made.set(ordered[i]!.name, plane));
  }
  const channels = image.channels.map((c): ExrChannel => {
    const plane = made.get(c.name) ?? rounded(means(asFloats(c), width, height, step), bits(c.name));
    return { ...c, data: c.type === 'half' ? floatsToHalves(plane) : plane };
  });
  return { ...image, header: { ...image.header, dataWindow: box, displayWindow: box }, channels };
}
