import type { RgbPlanes } from '../planes/rgb-planes.ts';

const PLANES = ['r', 'g', 'b'] as const;

/** A channel of a pass of three channels, or its only one. */
export const channelOf = (planes: readonly Float32Array[], k: number): Float32Array =>
  planes[planes.length >= 3 ? k : 0]!;

/**
 * Which share of a channel of a pixel some light passes have together, 0 to 1: of the picture as rendered, so that it
 * also holds for what was corrected before, and for a part of a mixed pixel. Where there is no light it is 0.
 */
export function shareOfPass(
  rendered: Pick<RgbPlanes, 'r' | 'g' | 'b'>,
  passes: readonly (readonly Float32Array[])[],
): (at: number, k: number) => number {
  return (at, k) => {
    const all = rendered[PLANES[k]!][at]!;
    let sum = 0;
    for (const p of passes) sum += channelOf(p, k)[at]!;
    const share = all > 1e-9 ? sum / all : 0;
    return share > 0 ? Math.min(1, share) : 0;
  };
}
