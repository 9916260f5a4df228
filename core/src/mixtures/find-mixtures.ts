import type { Work } from '../crew/work.ts';
import type { IdIndex } from '../idindex/id-index.ts';
import { mixturesKernel } from '../kernels/mixtures.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import { plainMemory } from '../planes/tile-store.ts';
import { TILE, tilesAcross } from '../planes/tiles.ts';
import { packMixtures } from './mixture.ts';
import { fillPixels } from './neighbourhood.ts';
import { SAMPLES } from './samples.ts';

/** A picture, an ID layer of it, and the tiles whose mixed pixels are to be taken apart. */
export interface MixtureInput {
  planes: RgbPlanes;
  index: IdIndex;
  tiles: Uint32Array;
}

/** Takes mixed pixels apart, a tile a piece: tells them packed, or undefined where every pixel is one member's alone. */
export const findMixtures: Work<MixtureInput, ArrayBufferLike | undefined> = {
  kind: 'mixtures',
  pieces: ({ tiles }) => tiles.length,
  begin({ planes, index, tiles }) {
    const kernel = mixturesKernel(SAMPLES);
    const tilesX = tilesAcross(planes.width);
    return (piece) => {
      const tile = tiles[piece]!;
      const [x, y] = [(tile % tilesX) * TILE, Math.floor(tile / tilesX) * TILE];
      if (!fillPixels(kernel.pixels, planes, index, x, y)) return undefined;
      const found = kernel.solve();
      return found.pixels ? packMixtures(found, plainMemory) : undefined;
    };
  },
};
