import type { Area } from '../planes/area.ts';
import { sightingBuffers, type Sightings } from './coverage.ts';

/**
 * What has been gathered of one rectangle: plain sums over its samples, row-major, so that a later round can go on
 * with it in any thread. Arrays of what is not gathered are empty.
 */
export interface TileSums {
  area: Area;
  /** Samples taken of each pixel. */
  samples: Uint32Array;
  /** Pixels that need no more samples. */
  finished: Uint8Array;
  /** Samples that saw something. */
  seen: Uint32Array;
  /** r, g, b, or one triple for each part of the light. */
  light: Float64Array;
  /** r, g, b for each source of the light, see `sourcesOf`. */
  lamps: Float64Array;
  /** What noise is judged by when the samples have doubled next: the sums when there were `halfAt`, see `compareHalves`. */
  half: Float64Array;
  halfAt: number;
  /** For each block of pixels how many were judged, and their squared noise times the samples, summed. */
  noise: Float64Array;
  surface: Float64Array;
  /** Unshadowed and lit direct light. */
  shadow: Float64Array;
  occlusion: Float64Array;
  /** Samples on a catcher, its unshadowed and lit light, and what it reflects. */
  catcher: Float64Array;
  ids: Sightings;
  through: Sightings[];
  rays: number;
  /** Milliseconds of work, and the part of them that ambient occlusion took. */
  spent: number;
  spentOcclusion: number;
}

export const CATCHER = { samples: 0, unshadowed: 1, lit: 2, reflection: 3, count: 6 } as const;

/** Buffers of a rectangle to hand over to another thread. */
export const tileBuffers = (t: TileSums): ArrayBuffer[] =>
  [
    t.samples.buffer,
    t.finished.buffer,
    t.seen.buffer,
    t.light.buffer,
    t.lamps.buffer,
    t.half.buffer,
    t.noise.buffer,
    t.surface.buffer,
    t.shadow.buffer,
    t.occlusion.buffer,
    t.catcher.buffer,
    ...sightingBuffers(t.ids),
    ...t.through.flatMap(sightingBuffers),
  ] as ArrayBuffer[];
