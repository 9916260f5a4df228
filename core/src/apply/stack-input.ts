import type { DisplayUse } from '../display/show.ts';
import type { PartFigures, Passes } from '../corrections/correction.ts';
import type { FieldValue } from '../fields/field.ts';
import type { MixtureData } from '../mixtures/kept.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import type { TileData } from '../planes/tile-store.ts';

/** Tiles of what lies below a layer, kept so that they need not be computed again. Three planes a tile. */
export interface KeptTiles {
  data: TileData;
  /** 1 where a tile is what it should be. */
  valid: Uint8Array;
}

/** How a change acts at pixels that show more than its members: on their own parts alone. */
export interface CleanEdges {
  /** Of the ID layer that its members are picked in, as far as they are known. */
  mixtures: MixtureData;
  /** For each slot of the layer's index 1 if it is one of the members; whether what is not told apart is. */
  chosen: Uint8Array;
  others: boolean;
}

/** A correction as it is applied. */
export interface StepInput {
  kind: string;
  values: Record<string, FieldValue>;
  measured?: PartFigures | undefined;
}

/** One change of the list as it is applied: it pulls from the layer below and writes where its mask is. */
export interface StackLayer {
  changeId: string;
  /** Corrections that do something, each with every value, and with what was measured for it. */
  steps: readonly StepInput[];
  mask: TileData;
  /** A byte a tile, 1 where the layer may write: its mask, and around it where a correction spreads. */
  writes: Uint8Array;
  below?: KeptTiles | undefined;
  /** Absent: it mixes plainly, by coverage. */
  clean?: CleanEdges | undefined;
}

/** All that it takes to compute tiles of the corrected picture: plain data, also for another thread. */
export interface StackInput {
  source: RgbPlanes;
  /** Written, row-major. */
  result: RgbPlanes;
  /** From the lowest on. */
  layers: readonly StackLayer[];
  /** Other passes that the layers' corrections read. */
  passes: Passes;
  /** Numbers of the tiles to compute. */
  tiles: Uint32Array;
  /** What the screen needs of them. */
  shown?: ShownBytes | undefined;
}

/** Tiles as bytes for the screen, RGBA, each at its own place, with room for a whole one. */
export interface ShownBytes {
  bytes: Uint8Array;
  display: DisplayUse;
  /** How often the side of a tile is halved: from afar no more is seen. */
  halvings: number;
  /** 1 for each piece that is ready. */
  ready: Uint8Array;
}

/** A correction that threw; the tile is as if it were off. */
export interface StepFailure {
  changeId: string;
  kind: string;
  message: string;
}
