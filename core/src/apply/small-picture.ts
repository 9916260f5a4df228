import { shownColour, type DisplayUse } from '../display/show.ts';
import { through } from '../colour/matrix.ts';
import { eachUnder } from '../masks/each-under.ts';
import type { TileMask } from '../masks/tile-mask.ts';
import type { Area } from '../planes/area.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';

/** The smallest rectangle around what a mask covers; undefined if it covers nothing. */
export function boundsUnder(mask: TileMask): Area | undefined {
  const { width } = mask.size;
  let [x0, y0, x1, y1] = [Infinity, Infinity, -1, -1];
  eachUnder(mask, 0.05, (_, p) => {
    const [x, y] = [p % width, Math.floor(p / width)];
    [x0, y0, x1, y1] = [Math.min(x0, x), Math.min(y0, y), Math.max(x1, x), Math.max(y1, y)];
  });
  return x1 < 0 ? undefined : { x0, y0, x1: x1 + 1, y1: y1 + 1 };
}

/** So many pixels across are looked at for one that is shown, however large the picture is. */
const LOOKS = 4;

/** A whole mask in grey, white where it covers, its longer side so long at most. */
export function smallMask(
  mask: TileMask,
  side: number,
): { width: number; height: number; data: Uint8ClampedArray<ArrayBuffer> } {
  const { width, height } = mask.size;
  const by = Math.max(1, Math.max(width, height) / side);
  const [w, h] = [Math.max(1, Math.floor(width / by)), Math.max(1, Math.floor(height / by))];
  const data = new Uint8ClampedArray(4 * w * h).fill(255);
  const looked = Array.from({ length: LOOKS }, (_, i) => (i + 0.5) / LOOKS);
  for (let v = 0; v < h; v++)
    for (let u = 0; u < w; u++) {
      let sum = 0;
      for (const dy of looked)
        for (const dx of looked)
          sum += mask.at(
            Math.min(width - 1, Math.floor((u + dx) * by)),
            Math.min(height - 1, Math.floor((v + dy) * by)),
          );
      data.fill((255 * sum) / LOOKS ** 2, 4 * (v * w + u), 4 * (v * w + u) + 3);
    }
  return { width: w, height: h, data };
}

/** An area of a picture as it is shown, means of pixels, its longer side so long at most. */
export function smallPicture(
  { width, r, g, b, toScreen }: RgbPlanes,
  { x0, y0, x1, y1 }: Area,
  side: number,
  display: DisplayUse,
): { width: number; height: number; data: Uint8ClampedArray<ArrayBuffer> } {
  const by = Math.max(1, Math.max(x1 - x0, y1 - y0) / side);
  const [w, h] = [Math.max(1, Math.floor((x1 - x0) / by)), Math.max(1, Math.floor((y1 - y0) / by))];
  const data = new Uint8ClampedArray(4 * w * h);
  const stride = Math.max(1, Math.floor(by / LOOKS));
  for (let v = 0; v < h; v++)
    for (let u = 0; u < w; u++) {
      const sum: [number, number, number] = [0, 0, 0];
      let n = 0;
      for (let y = Math.floor(y0 + v * by); y < Math.min(y1, Math.ceil(y0 + (v + 1) * by)); y += stride)
        for (
          let x = Math.floor(x0 + u * by);
          x < Math.min(x1, Math.ceil(x0 + (u + 1) * by));
          x += stride, n++
        ) {
          const p = y * width + x;
          sum[0] += r[p]!;
          sum[1] += g[p]!;
          sum[2] += b[p]!;
        }
      const mean: [number, number, number] = [sum[0] / n, sum[1] / n, sum[2] / n];
      const shown = shownColour(toScreen ? through(toScreen, mean) : mean, display);
      for (let k = 0; k < 3; k++) data[4 * (v * w + u) + k] = 255 * shown[k]!;
      data[4 * (v * w + u) + 3] = 255;
    }
  return { width: w, height: h, data };
}
