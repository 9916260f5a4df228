import { maskOfPlanes, passPicture, type ChannelMask } from '@zesty-crow/core';
import type { PassPicture } from '../messages.ts';
import type { Question } from './question.ts';

/** What a mask of channels would look like. */
export const channelMask: Question<
  { mask: ChannelMask; side: number; layer?: undefined },
  PassPicture | undefined
> = {
  none: undefined,
  async answer({ open, planesOf }, { mask, side }) {
    const { frame } = open;
    const channels = mask.channels.map((c) => c.channel);
    if (!channels.every((c) => frame.header.channels.some((h) => h.name === c))) return undefined;
    // Kept like a pass: a value is dragged while it is looked at.
    const planes = await planesOf(`mask of ${channels.join(' ')}`, channels);
    const cover = new Float32Array(frame.width * frame.height);
    maskOfPlanes(mask, planes, cover);
    return passPicture([cover], frame, 'share', side);
  },
};
