import { limitsOf, sameValue, showMask, TILE, tileBounds, weighPixels } from '@zesty-crow/core';
import type { ViewState } from '../messages.ts';
import { coverOf, reduced, type Shown, type ViewMode } from './surface.ts';

/** The correction of the open change whose limit is looked at. */
function limitedUse({ changes, openChange, limitOf }: ViewState) {
  if (limitOf === undefined) return undefined;
  return changes.find((c) => c.id === openChange)?.corrections.find((u) => u.id === limitOf);
}
const limitIn = (view: ViewState | undefined) => view && limitedUse(view)?.values;

/** Coverage of a tile, times how much the limit that is looked at lets through. */
function limited(shown: Shown, tile: number): Float32Array | undefined {
  const cover = coverOf(shown, tile);
  const use = limitedUse(shown.view);
  const limits = use && limitsOf(use.values);
  if (!limits || !cover) return cover;
  const { planes, stack, passes } = shown.open;
  const weigh = weighPixels(limits, planes, passes);
  const { x0, y0, x1, y1 } = tileBounds(tile, stack.tilesX, planes.width, planes.height);
  const out = cover.slice();
  for (let y = y0; y < y1; y++)
    for (let x = x0, p = y * planes.width + x0, i = (y - y0) * TILE; x < x1; x++, p++, i++)
      if (out[i]! > 0) out[i]! *= weigh(p);
  return out;
}

/** The open change's mask in grey; before it is as it was picked, without its edge. */
export const mask: ViewMode = {
  byMask: true,
  changed: (last, now) => !sameValue(limitIn(last), limitIn(now)),
  tile: (shown, tile, halvings) => reduced(showMask(limited(shown, tile)), shown, tile, halvings),
  before: (shown, tile, halvings) =>
    reduced(showMask(shown.open.stack.unrefined(shown.view.openChange)?.tile(tile)), shown, tile, halvings),
};
