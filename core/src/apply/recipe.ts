import { hasMask, type Masked } from '../changes/change.ts';
import { leavesAll } from '../masks/edge/edge-step.ts';
import { edgeStepOf } from '../masks/edge/registry.ts';
import { turnRound } from '../masks/edge/turn-round.ts';
import type { MaskRecipe } from '../masks/pipeline.ts';

/** What a mask is made of: who, the edge steps that are on and do something, the shapes of its fence, its strokes. */
export const recipeOf = (masked: Masked): MaskRecipe => ({
  who: masked.who,
  edge: masked.edge.flatMap(({ kind, on, values }) => {
    const step = edgeStepOf(kind);
    return on && step && !leavesAll(step, values) ? [{ kind, values }] : [];
  }),
  fence: masked.fence.flatMap(({ kind, on, values, follow }) =>
    on ? [{ kind, values, ...(follow ? { follow } : {}) }] : [],
  ),
  brush: masked.brush,
});

/**
 * The mask over all changes of a heading, if it has one. A heading that names nobody means everything within its fence,
 * or what its brush adds if it has no fence.
 */
export function recipeOver(heading: Masked): MaskRecipe | undefined {
  if (!hasMask(heading)) return undefined;
  const recipe = recipeOf(heading);
  const painted = recipe.fence.length === 0 && heading.brush.some((s) => s.way === 'add');
  if (heading.who.length > 0 || painted) return recipe;
  return { ...recipe, edge: [{ kind: turnRound.kind, values: {} }, ...recipe.edge] };
}
