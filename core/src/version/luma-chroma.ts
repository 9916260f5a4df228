import { chromaticities } from '../formats/exr/attributes.ts';
import type { ChannelInfo, ExrHeader } from '../formats/exr/types.ts';
import { luminanceWeights } from '../colour/primaries.ts';
import type { Derived } from './derived.ts';

/**
 * Pictures that are stored as luminance and two channels of chroma, which have a sample for every second pixel of every
 * second line: OpenEXR's own way of keeping colours in half the room (technical introduction, "luminance/chroma").
 */

/** Weights of the samples 1, 3, … 13 pixels away on either side: OpenEXR's reconstruction filter, 27 pixels wide. */
const TAPS = [0.627123, -0.186077, 0.087929, -0.043159, 0.019597, -0.00754, 0.002128];

/** True for a channel of chroma with a sample for every second pixel of every second line. */
export const isChroma = ({ name, xSampling, ySampling }: ChannelInfo): boolean =>
  xSampling === 2 && ySampling === 2 && /(^|\.)(RY|BY)$/.test(name);

/** Fills every second of `count` numbers, `step` apart, from those between which it lies; ends are repeated. */
function fillOdd(plane: Float32Array, from: number, step: number, count: number): void {
  const last = count - 1 - ((count - 1) % 2);
  for (let i = 1; i < count; i += 2) {
    let sum = 0;
    for (let k = 0; k < TAPS.length; k++)
      sum +=
        TAPS[k]! *
        (plane[from + step * Math.max(0, i - 1 - 2 * k)]! +
          plane[from + step * Math.min(last, i + 1 + 2 * k)]!);
    plane[from + step * i] = sum;
  }
}

/**
 * Chroma at full size: stored samples stay as they are, those between them by the filter, first along the lines, then
 * across them.
 * @param samples half as wide and high, rounded up
 */
export function fullChroma(
  samples: ArrayLike<number>,
  width: number,
  height: number,
  out: Float32Array,
): Float32Array {
  const columns = Math.ceil(width / 2);
  for (let y = 0; y < height; y += 2) {
    for (let x = 0; x < width; x += 2) out[y * width + x] = samples[(y / 2) * columns + x / 2]!;
    fillOdd(out, y * width, 1, width);
  }
  for (let x = 0; x < width; x++) fillOdd(out, x, width, height);
  return out;
}

/** How much of its largest value a colour has beyond its smallest: 0 is grey, 1 has nothing of one colour. */
function saturation(r: number, g: number, b: number): number {
  const most = Math.max(r, g, b);
  return most > 0 ? 1 - Math.min(r, g, b) / most : 0;
}

/**
 * Takes back single pixels that the filter has made more colourful than what is around them could be, without changing
 * how light they are: a colour may have at most a quarter more of what is left to full saturation.
 */
function calmSaturation(
  [r, g, b]: readonly [Float32Array, Float32Array, Float32Array],
  width: number,
  height: number,
  weights: readonly number[],
): void {
  const own = Float32Array.from(r, (v, p) => saturation(v, g[p]!, b[p]!));
  const luma = (p: number) => r[p]! * weights[0]! + g[p]! * weights[1]! + b[p]! * weights[2]!;
  for (let y = 0; y < height; y++) {
    const above = Math.max(0, y - 1) * width;
    const below = Math.min(height - 1, y + 1) * width;
    for (let x = 0; x < width; x++) {
      const p = y * width + x;
      const [left, right] = [Math.max(0, x - 1), Math.min(width - 1, x + 1)];
      const around =
        (own[above + left]! + own[above + right]! + own[below + left]! + own[below + right]!) / 4;
      const mean = Math.min(1, around);
      const most = Math.min(1, 1 - (1 - mean) * 0.25);
      if (!(own[p]! > mean && own[p]! > most)) continue;
      const by = most / own[p]!;
      const top = Math.max(r[p]!, g[p]!, b[p]!);
      const before = luma(p);
      for (const plane of [r, g, b]) plane[p] = Math.max(0, top - (top - plane[p]!) * by);
      const after = luma(p);
      if (after > 0) for (const plane of [r, g, b]) plane[p]! *= before / after;
    }
  }
}

/** The R, G and B of a picture that is stored as Y, RY and BY; they take the place of those. */
export function coloursOfLumaChroma(header: ExrHeader): Derived[] {
  return header.channels.flatMap((luma): Derived[] => {
    if (!/(^|\.)Y$/.test(luma.name)) return [];
    const layer = luma.name.slice(0, -1);
    const [ry, by] = ['RY', 'BY'].map((n) => header.channels.find((c) => c.name === layer + n));
    if (!ry || !by || !isChroma(ry) || !isChroma(by)) return [];
    const weights = luminanceWeights(chromaticities(header.attributes));
    const info = (letter: string): ChannelInfo => {
      const { type, pLinear } = luma;
      return {
        name: layer + letter,
        type: type === 'uint' ? 'float' : type,
        xSampling: 1,
        ySampling: 1,
        pLinear,
      };
    };
    return [
      {
        channels: ['R', 'G', 'B'].map(info),
        from: [luma, ry, by],
        replaces: true,
        make([y, ry, by], out, { width, height }) {
          const [r, g, b] = out as readonly [Float32Array, Float32Array, Float32Array];
          for (let p = 0; p < r.length; p++) {
            const light = y![p]!;
            r[p] = (ry![p]! + 1) * light;
            b[p] = (by![p]! + 1) * light;
            g[p] = (light - r[p]! * weights[0]! - b[p]! * weights[2]!) / weights[1]!;
          }
          calmSaturation([r, g, b], width, height, weights);
        },
      },
    ];
  });
}
