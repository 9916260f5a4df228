import type { Work } from '../crew/work.ts';
import { mixturesKernel } from '../kernels/mixtures.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import { plainMemory } from '../planes/tile-store.ts';
import { TILE, tilesAcross } from '../planes/tiles.ts';
import { packMixtures } from './mixture.ts';
import { anyMixed, AROUND } from './neighbourhood.ts';
import { SAMPLES } from './samples.ts';
import type { TileRuns } from './tile-runs.ts';

/** A picture, an ID layer of it, and the tiles whose mixed pixels are to be taken apart. */
export interface MixtureInput {
  planes: RgbPlanes;
  runs: TileRuns;
  tiles: Uint32Array;
}

/** Takes mixed pixels apart, a tile a piece: tells them packed, or undefined where every pixel is one member's alone. */
export const findMixtures: Work<MixtureInput, ArrayBufferLike | undefined> = {
  kind: 'mixtures',
  pieces: ({ tiles }) => tiles.length,
  begin({ planes, runs, tiles }) {
    const kernel = mixturesKernel(SAMPLES);
    const tilesX = tilesAcross(planes.width);
    return (piece) => {
      const tile = tiles[piece]!;
      const [x, y] = [(tile % tilesX) * TILE, Math.floor(tile / tilesX) * TILE];
      if (!anyMixed(runs, x, y)) return undefined;
      kernel.fill(planes, runs, x - AROUND, y - AROUND);
      const found = kernel.solve();
      return found.pixels ? packMixtures(found, plainMemory) : undefined;
    };
  },
};
