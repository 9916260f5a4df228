import { computeTiles } from '../apply/compute-tiles.ts';
import type { AnyWork } from '../crew/work.ts';
import { unpackBlocks } from '../formats/exr/blocks.ts';
import { runsOfBands } from '../idindex/band.ts';
import { runsOfBlocks } from './index-blocks.ts';

/** All work of opening and correcting that threads can share: what a hand is told to know. */
export const WORKS: readonly AnyWork[] = [unpackBlocks, runsOfBands, runsOfBlocks, computeTiles];
