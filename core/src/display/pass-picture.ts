import { displayByte } from '../colour/srgb.ts';
import type { IdIndex } from '../idindex/id-index.ts';
import { TILE } from '../planes/tiles.ts';
import { showIds } from './view.ts';

/** A picture for the screen. */
export interface Shown {
  width: number;
  height: number;
  /** RGBA, sRGB, row by row from the top. */
  data: Uint8ClampedArray<ArrayBuffer>;
}

/** How numbers become a picture: light through the display transform, data as grey, directions around mid grey. */
export type NumbersDisplay = 'light' | 'range' | 'directions' | 'share' | 'numbers';

/** Means of squares of `by` pixels of what is finite; NaN where nothing is. */
export function reducedPlane(
  plane: ArrayLike<number>,
  width: number,
  height: number,
  by: number,
): Float32Array {
  const [w, h] = [Math.ceil(width / by), Math.ceil(height / by)];
  const out = new Float32Array(w * h);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++) {
      let [sum, n] = [0, 0];
      for (let j = y * by; j < Math.min(height, y * by + by); j++)
        for (let i = x * by; i < Math.min(width, x * by + by); i++) {
          const v = plane[j * width + i]!;
          if (!Number.isFinite(v)) continue;
          sum += v;
          n++;
        }
      out[y * w + x] = n ? sum / n : NaN;
    }
  return out;
}

/**
 * The range in which nearly all values lie: without the outermost half percent at either end, where something very far
 * away or broken would hide all the rest. Of at most 100,000 values.
 */
export function rangeOf(planes: readonly ArrayLike<number>[]): { from: number; to: number } {
  const values: number[] = [];
  for (const plane of planes) {
    const step = Math.max(1, Math.floor((plane.length * planes.length) / 100_000));
    for (let i = 0; i < plane.length; i += step)
      // A renderer writes something enormous where it hits nothing.
      if (Number.isFinite(plane[i]) && Math.abs(plane[i]!) < 1e9) values.push(plane[i]!);
  }
  if (values.length === 0) return { from: 0, to: 1 };
  const sorted = Float64Array.from(values).sort();
  const at = (share: number) => sorted[Math.round(share * (sorted.length - 1))]!;
  const [from, to] = [at(0.005), at(0.995)];
  // All the same: against nothing, so that it is seen to be something.
  if (from === to)
    return from === 0 ? { from: 0, to: 1 } : { from: Math.min(0, from), to: Math.max(0, from) };
  return { from, to };
}

/**
 * A pass as a picture, no side longer than `side`: means of whole squares of pixels.
 * @param planes one channel is grey, three are red, green and blue, two are red and green
 * @param display true for numbers that were made for a screen already
 */
export function passPicture(
  planes: readonly ArrayLike<number>[],
  { width, height }: { width: number; height: number },
  shownAs: NumbersDisplay,
  side: number,
  display = false,
): Shown & { range?: { from: number; to: number } } {
  const by = Math.max(1, Math.ceil(Math.max(width, height) / side));
  const three = planes.slice(0, 3).map((p) => reducedPlane(p, width, height, by));
  const [w, h] = [Math.ceil(width / by), Math.ceil(height / by)];
  const range = shownAs === 'range' || shownAs === 'numbers' ? rangeOf(planes.slice(0, 3)) : undefined;
  const byte = (v: number): number => {
    if (range) return 255 * ((v - range.from) / (range.to - range.from));
    if (shownAs === 'directions') return 255 * (0.5 + 0.5 * v);
    if (shownAs === 'share' || display) return 255 * v;
    return displayByte(v);
  };
  const data = new Uint8ClampedArray(4 * w * h);
  for (let i = 0; i < w * h; i++) {
    for (let k = 0; k < 3; k++) {
      const plane = three.length === 1 ? three[0]! : three[k];
      // What is no number is nothing that could be taken for a value.
      data[4 * i + k] = plane ? byte(plane[i]!) : 0;
    }
    data[4 * i + 3] = 255;
  }
  return { width: w, height: h, data, ...(range ? { range } : {}) };
}

/** An ID layer as a picture, every ID in its own flat colour, no side longer than `side`. */
export function idsPicture(index: IdIndex, side: number): Shown {
  const { width, height, tilesX, tilesY } = index;
  const by = Math.max(1, Math.ceil(Math.max(width, height) / side));
  const [w, h] = [Math.ceil(width / by), Math.ceil(height / by)];
  const sums = new Float32Array(3 * w * h);
  const counts = new Uint32Array(w * h);
  for (let t = 0; t < tilesX * tilesY; t++) {
    const bytes = showIds(index, t);
    const [x0, y0] = [(t % tilesX) * TILE, Math.floor(t / tilesX) * TILE];
    for (let y = y0; y < Math.min(height, y0 + TILE); y++)
      for (let x = x0; x < Math.min(width, x0 + TILE); x++) {
        const from = 4 * ((y - y0) * TILE + x - x0);
        const to = Math.floor(y / by) * w + Math.floor(x / by);
        for (let k = 0; k < 3; k++) sums[3 * to + k]! += bytes[from + k]!;
        counts[to]!++;
      }
  }
  const data = new Uint8ClampedArray(4 * w * h);
  for (let i = 0; i < w * h; i++) {
    for (let k = 0; k < 3; k++) data[4 * i + k] = sums[3 * i + k]! / counts[i]!;
    data[4 * i + 3] = 255;
  }
  return { width: w, height: h, data };
}
