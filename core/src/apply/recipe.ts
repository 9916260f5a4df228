import type { Change } from '../changes/change.ts';
import type { MaskRecipe } from '../masks/pipeline.ts';

/** What a change's mask is made of. */
export const recipeOf = (change: Change): MaskRecipe => ({ who: change.who, edge: [], fence: [] });
