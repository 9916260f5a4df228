import { defineEdgeStep } from './edge-step.ts';
import { reachOfIslands, SIZE, withoutIslands } from './islands.ts';

/** Drops what is no larger than so many pixels across and stands alone. Edges and larger things stay as they are. */
export const specks = defineEdgeStep<{ size: number }>({
  kind: 'specks',
  label: 'Drop specks',
  short: 'Specks',
  hint: 'Takes away small bits that stand alone; everything larger stays.',
  fields: [SIZE],
  reach: ({ size }) => reachOfIslands(size),
  apply: (input, { size }, out) => withoutIslands(input, size, true, out),
});
