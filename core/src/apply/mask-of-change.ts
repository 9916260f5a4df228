import type { CastLayer } from '../cast/cast.ts';
import type { ListedChange } from '../changes/listed.ts';
import { placedOver } from '../changes/placed-over.ts';
import { MaskPipeline } from '../masks/pipeline.ts';
import type { TileMask } from '../masks/tile-mask.ts';
import type { Size } from '../planes/size.ts';
import { recipeOf, recipeOver } from './recipe.ts';

/** The mask of a change as its corrections see it, that of its heading included; made once. */
export function maskOfChange(open: Size & { cast: readonly CastLayer[] }, change: ListedChange): TileMask {
  const over = change.over && recipeOver(placedOver(change.over, open));
  const above = new MaskPipeline(open.cast, open);
  const changed = over ? above.update(over) : undefined;
  const own = new MaskPipeline(open.cast, open);
  own.update(recipeOf(placedOver(change, open)), changed && { mask: above.mask, changed, edits: 1 });
  return own.mask;
}
