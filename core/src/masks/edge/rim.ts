import { defineEdgeStep } from './edge-step.ts';
import { moveEdge, reachOf } from '../../kernels/move-edge.ts';

const width = (key: string, label: string, initial: number) =>
  ({
    kind: 'number',
    key,
    label,
    unit: 'px',
    min: 0,
    max: 50,
    softMax: 12,
    step: 0.1,
    neutral: 0,
    initial,
  }) as const;

/** Only a rim along the edge: the mask grown outwards less the mask shrunk inwards. */
export const rim = defineEdgeStep<{ inside: number; outside: number }>({
  kind: 'rim',
  label: 'Rim only',
  hint: 'Leaves a rim along the edge, so wide inside and outside.',
  fields: [width('inside', 'Inside', 2), width('outside', 'Outside', 0)],
  reach: ({ inside, outside }) => reachOf(Math.max(inside, outside)),
  apply(input, { inside, outside }, out) {
    const core = new Float32Array(out.length);
    moveEdge(input, outside, out);
    moveEdge(input, -inside, core);
    for (let i = 0; i < out.length; i++) out[i] = Math.max(0, out[i]! - core[i]!);
  },
});
