import type { Work } from '../crew/work.ts';
import { mixturesKernel } from '../kernels/mixtures.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import { plainMemory, type Allocate } from '../planes/tile-store.ts';
import { TILE, tilesAcross } from '../planes/tiles.ts';
import { packMixtures } from './mixture.ts';
import { fillPixels, type Runs } from './neighbourhood.ts';
import { SAMPLES } from './samples.ts';

/** The runs of a layer in memory that other threads see, so that they are not copied with every piece of work. */
export function sharedRuns(index: Runs, allocate: Allocate): Runs {
  const { width, height, rowStart, slot, pixel, length, coverage } = index;
  const words = (from: Uint32Array) => {
    const copy = new Uint32Array(allocate(from.byteLength));
    copy.set(from);
    return copy;
  };
  const shares = new Float32Array(allocate(coverage.byteLength));
  shares.set(coverage);
  return {
    width,
    height,
    rowStart: words(rowStart),
    slot: words(slot),
    pixel: words(pixel),
    length: words(length),
    coverage: shares,
  };
}

/** A picture, an ID layer of it, and the tiles whose mixed pixels are to be taken apart. */
export interface MixtureInput {
  planes: RgbPlanes;
  runs: Runs;
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
      if (!fillPixels(kernel.pixels, planes, runs, x, y)) return undefined;
      const found = kernel.solve();
      return found.pixels ? packMixtures(found, plainMemory) : undefined;
    };
  },
};
