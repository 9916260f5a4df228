import type { Area } from '../planes/area.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import type { Size } from '../planes/size.ts';

export const grown = (a: Area, by: number): Area => ({
  x0: a.x0 - by,
  y0: a.y0 - by,
  x1: a.x1 + by,
  y1: a.y1 + by,
});

/** Memory that is used again: what was handed out before is written over. */
export class Scratch {
  private memory = new Float32Array(0);
  /** Some planes of so many numbers, whatever they hold. */
  take(planes: number, count: number): Float32Array[] {
    if (this.memory.length < planes * count) this.memory = new Float32Array(planes * count);
    return Array.from({ length: planes }, (_, i) => this.memory.subarray(i * count, (i + 1) * count));
  }
}

/** Planes of an area and a margin around it: new ones, which hold 0, or some that hold anything. */
export function newPlanes(area: Area, margin: number, scratch?: Scratch): RgbPlanes {
  const width = area.x1 - area.x0 + 2 * margin;
  const height = area.y1 - area.y0 + 2 * margin;
  const [r, g, b] = (scratch ?? new Scratch()).take(3, width * height);
  return { width, height, r: r!, g: g!, b: b! };
}

/** The inner part of a window: `less` pixels fewer on every side. A copy. */
export function cropped(planes: RgbPlanes, less: number): RgbPlanes {
  const [width, height] = [planes.width - 2 * less, planes.height - 2 * less];
  const crop = (plane: Float32Array) => {
    const out = new Float32Array(width * height);
    for (let y = 0; y < height; y++) {
      const from = (y + less) * planes.width + less;
      out.set(plane.subarray(from, from + width), y * width);
    }
    return out;
  };
  return { width, height, r: crop(planes.r), g: crop(planes.g), b: crop(planes.b) };
}

/** Numbers of the picture's pixels in an area and a margin; beyond the border the nearest one's. */
export function pixelNumbers(area: Area, margin: number, { width, height }: Size): Uint32Array {
  const { x0, y0, x1, y1 } = grown(area, margin);
  const out = new Uint32Array((x1 - x0) * (y1 - y0));
  for (let y = y0, i = 0; y < y1; y++) {
    const row = Math.min(height - 1, Math.max(0, y)) * width;
    for (let x = x0; x < x1; x++) out[i++] = row + Math.min(width - 1, Math.max(0, x));
  }
  return out;
}
