import { defineEdgeStep } from './edge-step.ts';
import { reachOfIslands, SIZE, withoutIslands } from './islands.ts';

/** Fills holes that are no larger than so many pixels across. Edges and larger holes stay as they are. */
export const pinholes = defineEdgeStep<{ size: number }>({
  kind: 'pinholes',
  label: 'Fill pinholes',
  short: 'Pinholes',
  hint: 'Closes small holes; edges and larger holes stay as they are.',
  fields: [SIZE],
  reach: ({ size }) => reachOfIslands(size),
  apply: (input, { size }, out) => withoutIslands(input, size, false, out),
});
