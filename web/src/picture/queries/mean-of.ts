import { maskOfMembers } from '@zesty-crow/core';
import { meanOnScreen } from './mean.ts';
import { ofLayer } from './question.ts';

/** Mean colour of members as rendered, scene-linear Rec. 709. */
export const meanOf = ofLayer<{ layer: string; ids: number[] }, [number, number, number] | undefined>({
  none: undefined,
  answerFrom: (layer, { open }, { ids }) => meanOnScreen(open.planes, maskOfMembers(layer.index, ids)),
});
