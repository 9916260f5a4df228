import type { PartColours, Passes } from '../corrections/correction.ts';
import type { TileMask } from '../masks/tile-mask.ts';
import { finite } from '../planes/finite.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import { TILE } from '../planes/tiles.ts';

/** From here on a pixel is the part's alone. */
const PURE = 0.95;
/** Fewer pixels are too few to speak for a part: then those that it shares count, too. */
const ENOUGH = 64;

/**
 * The colours of a picture that a mask covers. Pixels at the edge show other things, too: they are left out where there
 * are enough without them.
 */
export function partColours(planes: RgbPlanes, mask: TileMask, passes: Passes): PartColours {
  const pure = gathered(planes, mask, passes, PURE);
  return pure.count >= ENOUGH ? pure : gathered(planes, mask, passes, 0);
}

function gathered(planes: RgbPlanes, mask: TileMask, passes: Passes, above: number): PartColours {
  const at: number[] = [];
  const weight: number[] = [];
  const { width } = planes;
  for (let t = 0; t < mask.tileCount; t++) {
    const tile = mask.tile(t);
    if (!tile) continue;
    const corner = Math.floor(t / mask.tilesX) * TILE * width + (t % mask.tilesX) * TILE;
    for (let i = 0; i < tile.length; i++) {
      if (!(tile[i]! > above)) continue;
      const p = corner + Math.floor(i / TILE) * width + (i % TILE);
      if (!finite(planes.r[p]!, planes.g[p]!, planes.b[p]!)) continue;
      at.push(p);
      weight.push(tile[i]!);
    }
  }
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
