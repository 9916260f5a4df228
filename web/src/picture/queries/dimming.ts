import { dimmingAround } from '@zesty-crow/core';
import type { PassPicture } from '../messages.ts';
import { ofLayer } from './question.ts';

/** Opacity, of 255, of the black on the wall, where it shows at a glance where something is. */
const DIMMED = 190;

/** Black over all but these members. */
export const dimming = ofLayer<{ layer: string; ids: number[]; side: number }, PassPicture | undefined>({
  none: undefined,
  answerFrom: (layer, _desk, { ids, side }) => dimmingAround(layer.index, ids, side, DIMMED),
});
