import { memberThumbnail } from '@zesty-crow/core';
import type { PassPicture } from '../messages.ts';
import { ofLayer } from './question.ts';

/** A member's mask by itself, in so much room. */
export const thumbnail = ofLayer<
  { layer: string; id: number; width: number; height: number },
  PassPicture | undefined
>({
  none: undefined,
  answerFrom: (layer, _desk, { id, width, height }) => memberThumbnail(layer.index, id, width, height),
});
