import { asFloats, passPicture, type ExrChannel } from '@zesty-crow/core';
import type { PassPicture } from '../messages.ts';
import type { OpenFrame } from '../open-frame.ts';
import type { Question } from './question.ts';

/** Channels as the file holds them, in the order in which they are asked for. */
export async function channelsOf({ frame }: OpenFrame, names: readonly string[]): Promise<ExrChannel[]> {
  const channels = await frame.channels((n) => names.includes(n));
  return names.flatMap((n) => channels.find((c) => c.name === n) ?? []);
}

/** Channels of a layer as a picture: shares as they are, anything else between its smallest and largest value. */
export const source: Question<
  { channels: readonly string[]; side: number; layer?: undefined },
  PassPicture | undefined
> = {
  none: undefined,
  async answer({ open }, { channels, side }) {
    const planes = (await channelsOf(open, channels)).map((c) => asFloats(c));
    const shares = planes.every((p) => p.every((v) => v <= 1.001));
    return passPicture(planes, open.frame, shares ? 'share' : 'range', side);
  },
};
