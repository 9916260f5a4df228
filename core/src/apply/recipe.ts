import type { Change } from '../changes/change.ts';
import { leavesAll } from '../masks/edge/edge-step.ts';
import { edgeStepOf } from '../masks/edge/registry.ts';
import type { MaskRecipe } from '../masks/pipeline.ts';

/** What a change's mask is made of: who, and the edge steps that are on and do something, and the shapes of its fence. */
export const recipeOf = (change: Change): MaskRecipe => ({
  who: change.who,
  edge: change.edge.flatMap(({ kind, on, values }) => {
    const step = edgeStepOf(kind);
    return on && step && !leavesAll(step, values) ? [{ kind, values }] : [];
  }),
  fence: change.fence.flatMap(({ kind, on, values }) => (on ? [{ kind, values }] : [])),
});
