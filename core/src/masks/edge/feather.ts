import { boxBlur, boxOfVariance, boxReach, type Box } from '../../planes/box-blur.ts';
import { defineEdgeStep } from './edge-step.ts';

/** Boxes, one after the other, that feather by `f` pixels: two that spread as much as boxes of f / 2 without pixels would. */
const PASSES = 2;
const boxOf = (f: number): Box => boxOfVariance((f / 2) ** 2 / 12);

/** Softens an edge over so many pixels, where it is: two boxes, without a threshold. Area is kept. */
export const feather = defineEdgeStep<{ size: number }>({
  kind: 'feather',
  label: 'Feather',
  hint: 'Softens the edge, where it is, over so many pixels.',
  fields: [
    {
      kind: 'number',
      key: 'size',
      label: 'Size',
      unit: 'px',
      min: 0,
      max: 200,
      softMax: 40,
      step: 0.1,
      neutral: 0,
      initial: 4,
    },
  ],
  reach({ size }) {
    return boxReach(boxOf(size), PASSES);
  },
  apply(input, { size }, out) {
    const { area, margin, coverage } = input;
    const width = area.x1 - area.x0 + 2 * margin;
    const soft = boxBlur(coverage, width, coverage.length / width, boxOf(size), PASSES);
    for (let i = 0; i < out.length; i++) out[i] = Math.min(1, Math.max(0, soft[i]!));
  },
});
