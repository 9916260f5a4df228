import { srgbToLinear } from './srgb.ts';

/**
 * Mean colour of a square of a picture in sRGB bytes, scene-linear Rec. 709; what is transparent does not count.
 * Undefined where there is nothing.
 * @param data RGBA, 8 bits each, row by row
 */
export function meanOfBytes(
  { width, height, data }: { width: number; height: number; data: ArrayLike<number> },
  x: number,
  y: number,
  side: number,
): [number, number, number] | undefined {
  const half = (side - 1) >> 1;
  const sum: [number, number, number] = [0, 0, 0];
  let weight = 0;
  for (let v = Math.max(0, y - half); v <= Math.min(height - 1, y + half); v++)
    for (let u = Math.max(0, x - half); u <= Math.min(width - 1, x + half); u++) {
      const at = 4 * (v * width + u);
      const alpha = data[at + 3]! / 255;
      weight += alpha;
      for (let k = 0; k < 3; k++) sum[k]! += alpha * srgbToLinear(data[at + k]! / 255);
    }
  return weight > 0 ? [sum[0] / weight, sum[1] / weight, sum[2] / weight] : undefined;
}
