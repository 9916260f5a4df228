import type { Check } from '../check.ts';
import { lightOf } from '../edges.ts';
import { countOf, Places } from '../places.ts';

/** A firefly is brighter than all but one of its neighbours by this factor, and bright at all. */
const FACTOR = 10;
const BRIGHT = 2;

/** True for a pixel that shines out alone: noise of the renderer, no highlight, which is wider than a pixel. */
export function isFirefly(light: Float32Array, width: number, p: number): boolean {
  const own = light[p]!;
  if (!(own > BRIGHT)) return false;
  let [first, second] = [0, 0];
  for (let v = -1; v <= 1; v++)
    for (let u = -1; u <= 1; u++) {
      if (u === 0 && v === 0) continue;
      const other = light[p + v * width + u]!;
      if (other > first) [first, second] = [other, first];
      else if (other > second) second = other;
    }
  // One neighbour may share it, where a sample falls between two pixels.
  return own > FACTOR * second && own >= first;
}

/** Sum of the channels of each pixel. */
export function sumOf(planes: readonly Float32Array[]): Float32Array {
  const sum = planes[0]!.slice();
  for (const plane of planes.slice(1)) for (let p = 0; p < sum.length; p++) sum[p]! += plane[p]!;
  return sum;
}

export const fireflies: Check = {
  code: 'fireflies',
  title: 'Single pixels that shine out',
  scope: 'frame',
  async run(open) {
    const { beauty, width, height } = open;
    const light = await lightOf(open);
    if (!light || !beauty) return [];
    const sum = sumOf(light.planes);
    const places = new Places(width, height);
    for (let y = 1; y < height - 1; y++)
      for (let x = 1; x < width - 1; x++) if (isFirefly(sum, width, y * width + x)) places.add(y * width + x);
    if (places.count === 0) return [];
    const derived = open.image.header.channels.find((c) => c.name === beauty.r)?.derived;
    return [
      {
        severity: 'info',
        code: 'fireflies',
        message: `${countOf(places.count, 'pixel')} of the picture ${places.count === 1 ? 'shines' : 'shine'} out alone, ten times as bright as what is around. A blur makes discs of them.`,
        places: places.areas(),
        ...(derived
          ? {}
          : {
              remedy: {
                label: 'Put them out',
                mend: { what: 'fireflies', layer: beauty.layer.slice(0, -1) || 'RGBA' },
              },
            }),
      },
    ];
  },
};
