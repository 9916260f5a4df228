import { throughMatrix, type Matrix } from '../colour/matrix.ts';
import type { PartColours, Passes } from '../corrections/correction.ts';
import { eachUnder, ENOUGH, PURE } from '../masks/each-under.ts';
import type { TileMask } from '../masks/tile-mask.ts';
import { finite } from '../planes/finite.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';

/**
 * The colours of a picture that a mask covers. Pixels at the edge show other things, too: they are left out where there
 * are enough without them.
 */
export function partColours(planes: RgbPlanes, mask: TileMask, passes: Passes): PartColours {
  const pure = gathered(planes, mask, passes, PURE);
  return pure.count >= ENOUGH ? pure : gathered(planes, mask, passes, 0);
}

/** The same colours in Rec. 709, if they are not. */
export function asRec709(part: PartColours, toScreen: RgbPlanes['toScreen']): PartColours {
  if (!toScreen) return part;
  const moved = { ...part, r: part.r.slice(), g: part.g.slice(), b: part.b.slice() };
  throughMatrix(moved, part.count, toScreen as Matrix);
  return moved;
}

function gathered(planes: RgbPlanes, mask: TileMask, passes: Passes, above: number): PartColours {
  const at: number[] = [];
  const weight: number[] = [];
  eachUnder(mask, above, (cover, p) => {
    if (!finite(planes.r[p]!, planes.g[p]!, planes.b[p]!)) return;
    at.push(p);
    weight.push(cover);
  });
  const of = (plane: Float32Array) => Float32Array.from(at, (p) => plane[p]!);
  return {
    count: at.length,
    r: of(planes.r),
    g: of(planes.g),
    b: of(planes.b),
    at: Uint32Array.from(at),
    weight: Float32Array.from(weight),
    rendered: planes,
    passes,
  };
}
