import { computeTiles } from '../apply/compute-tiles.ts';
import type { AnyWork } from '../crew/work.ts';
import { unpackBlocks } from '../formats/exr/blocks.ts';
import { runsOfBands } from '../idindex/band.ts';
import { findMixtures } from '../mixtures/find-mixtures.ts';
import { unmixColours } from '../roles/flat/unmix.ts';
import { edgesOfNumbers } from '../roles/numbers/edge-of-numbers.ts';
import { countBlocks } from './channel-stats.ts';
import { runsOfBlocks } from './index-blocks.ts';
import { reduceBlocks } from './reduced-blocks.ts';

/** All work of opening and correcting that threads can share: what a hand is told to know. */
export const WORKS: readonly AnyWork[] = [
  unpackBlocks,
  runsOfBands,
  runsOfBlocks,
  reduceBlocks,
  countBlocks,
  edgesOfNumbers,
  unmixColours,
  findMixtures,
  computeTiles,
];
