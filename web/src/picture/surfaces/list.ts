import { pictureTile, showDimming, showMask, showWarnings, TILE_PIXELS } from '@zesty-crow/core';
import type { ModeName, Surface, ViewState } from '../messages.ts';
import { corrected } from './corrected.ts';
import { cutOut } from './cut-out.ts';
import { difference } from './difference.ts';
import { idMap } from './id-map.ts';
import { mask } from './mask.ts';
import { coverOf, reduced, type MakeTile, type ViewMode } from './surface.ts';

/** Opacity, of 255, of the black over what is not picked. */
const DIMMED = 115;

const MODES: Record<ModeName, ViewMode> = {
  picture: corrected,
  ids: idMap,
  mask,
  cutout: cutOut,
  difference,
};

/** The way in which a view looks at the picture. */
export const modeOf = ({ mode }: Pick<ViewState, 'mode'>): ViewMode => MODES[mode];

/** How the tiles of each surface are made. */
export const TILES: Record<Surface, MakeTile> = {
  view: (shown, tile, halvings) => modeOf(shown.view).tile(shown, tile, halvings),
  before(shown, tile, halvings) {
    const own = modeOf(shown.view).before;
    return own ? own(shown, tile, halvings) : pictureTile(shown.compared, tile, shown.display, halvings);
  },
  dim: (shown, tile, halvings) => reduced(showDimming(coverOf(shown, tile), DIMMED), shown, tile, halvings),
  mask: (shown, tile, halvings) => reduced(showMask(coverOf(shown, tile)), shown, tile, halvings),
  warn(shown, tile, halvings) {
    const { watched } = shown.open;
    const marks = watched
      ? showWarnings(watched, tile, shown.view.warnings, halvings)
      : new Uint8ClampedArray(4 * TILE_PIXELS);
    return reduced(marks, shown, tile, halvings);
  },
};
