import { linearToSrgb, srgbToLinear } from '../../colour/srgb.ts';
import { asFloats } from '../../formats/exr/samples.ts';
import type { ExrChannel } from '../../formats/exr/types.ts';
import type { MendKind } from '../mend.ts';

/** A channel with other values, as floats. */
export const withValues = (channel: ExrChannel, data: Float32Array): ExrChannel => {
  const { encoding: _, bits: __, lossy: ___, ...rest } = channel;
  return { ...rest, type: 'float', data };
};

/** A mending of one mask, value by value; the mending's layer is its channel. */
const ofMask = (
  what: string,
  done: string,
  value: (v: number, numbers: Readonly<Record<string, number>>) => number,
): MendKind => ({
  what,
  done,
  channels: ({ layer }) => [layer],
  apply: ({ channels }, { mending: { numbers = {} }, names }) => ({
    channels: channels.map((c) =>
      c.name === names[0]
        ? withValues(
            c,
            asFloats(c).map((v) => value(v, numbers)),
          )
        : c,
    ),
  }),
});

export const turnRound = ofMask('turn-round', 'was turned round.', (v) => 1 - v);
export const stretch = ofMask('levels', 'goes from 0 to 1 now.', (v, { black = 0, white = 1 }) =>
  Math.min(1, Math.max(0, (v - black) / Math.max(1e-6, white - black))),
);
export const displayToLight = ofMask('display-to-light', 'has no display curve any more.', srgbToLinear);
export const lightToDisplay = ofMask('light-to-display', 'has its display curve again.', linearToSrgb);
