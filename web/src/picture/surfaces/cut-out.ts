import { pictureTile, showCutOut, tileBounds } from '@zesty-crow/core';
import { coverOf, reduced, type Shown, type ViewMode } from './surface.ts';

/** The pixels of the picture below that a tile lies on. */
function under({ open, laid }: Shown, tile: number) {
  const { width, height } = open.planes;
  if (laid?.width !== width || laid.height !== height) return undefined;
  const { x0, y0, x1 } = tileBounds(tile, open.stack.tilesX, width, height);
  return { data: laid.data, from: 4 * (y0 * width + x0), stride: 4 * width, across: x1 - x0 };
}

/** What the open change's mask covers, cut out of the corrected picture and laid on something else. */
export const cutOut: ViewMode = {
  byMask: true,
  changed: (last, now) => last?.ground !== now.ground,
  tile(shown, tile, halvings) {
    const { open, view, display } = shown;
    const below = view.ground === 'picture' ? under(shown, tile) : undefined;
    const whole = pictureTile(open.stack.result, tile, display);
    return reduced(showCutOut(whole, coverOf(shown, tile), view.ground, below), shown, tile, halvings);
  },
};
