import { showIds } from '@zesty-crow/core';
import { corrected } from './corrected.ts';
import { reduced, type ViewMode } from './surface.ts';

/** A colour for each member of an ID layer; the picture until the layer is there. */
export const idMap: ViewMode = {
  byLayer: true,
  tile(shown, tile, halvings) {
    const layer = shown.open.cast.find((l) => l.name === shown.view.layer);
    return layer
      ? reduced(showIds(layer.index, tile), shown, tile, halvings)
      : corrected.tile(shown, tile, halvings);
  },
};
