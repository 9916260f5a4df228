import { halvingsAt, maskContour, maskOfMembers } from '@zesty-crow/core';
import { ofLayer } from './question.ts';

/** Outline of members together, for showing what a click would take, or where something is. */
export const memberOutline = ofLayer<{ layer: string; ids: number[] }, Float32Array>({
  none: new Float32Array(0),
  answerFrom: (layer, { view }, { ids }) =>
    maskContour(maskOfMembers(layer.index, ids), halvingsAt(view().scale)),
});
