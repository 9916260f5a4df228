import type { DisplayUse, RgbPlanes } from '@zesty-crow/core';
import { reducedTile } from '@zesty-crow/core';
import type { ViewState } from '../messages.ts';
import type { OpenFrame } from '../open-frame.ts';

export type TileBytes = Uint8Array<ArrayBuffer>;

/** What a tile is made from. */
export interface Shown {
  open: OpenFrame;
  view: ViewState;
  display: DisplayUse;
  /** What the picture is compared with. */
  compared: RgbPlanes;
  /** A picture that cut-outs lie on, and whose frame it is as large as. */
  laid: { data: Uint8ClampedArray; width: number; height: number } | undefined;
}

/** Makes one tile as it is seen, `halvings` times made half as large. */
export type MakeTile = (shown: Shown, tile: number, halvings: number) => TileBytes;

/** A way of looking at the picture: what the large surface shows, and what makes its tiles others. */
export interface ViewMode {
  tile: MakeTile;
  /** The corrected picture itself: its tiles are sent as they are computed. */
  corrected?: true;
  /** Shows something of the open change's mask, where that moves. */
  byMask?: true;
  /** Shows what the picture is compared with, where that moves. */
  byCompared?: true;
  /** Shows the ID layer that is chosen. */
  byLayer?: true;
  /** True if all its tiles are others by something of the view besides mode, layer and display. */
  changed?(last: ViewState | undefined, now: ViewState): boolean;
  /** What is shown as before, where that is not what the picture is compared with. */
  before?: MakeTile;
}

/** Bytes of a whole tile, made smaller as it is seen. */
export const reduced = (
  bytes: ArrayLike<number>,
  { open }: Shown,
  tile: number,
  halvings: number,
): TileBytes => reducedTile(bytes, tile, open.planes, halvings);

/** Coverage of the open change's mask in a tile. */
export const coverOf = ({ open, view }: Shown, tile: number): Float32Array | undefined =>
  open.stack.mask(view.openChange)?.tile(tile);
