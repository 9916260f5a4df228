import { asFloats } from '../../formats/exr/samples.ts';
import type { OpenPicture } from '../../version/open-picture.ts';

/** The shadow and the reflection that a thing throws on what it stands on, as rendered with a cut-out. */
export interface Caught {
  /** Share of light that is taken away, 0 to 1. */
  shadow: Float32Array;
  /** Light that is added. */
  r: Float32Array;
  g: Float32Array;
  b: Float32Array;
}

/** What was caught in a version; undefined where nothing was. */
export function caughtIn({ image }: OpenPicture): Caught | undefined {
  const plane = (name: string) => {
    const channel = image.channels.find((c) => c.name === name);
    return channel && asFloats(channel);
  };
  const shadow = plane('caught_shadow.Y');
  const [r, g, b] = ['R', 'G', 'B'].map((c) => plane(`caught_reflection.${c}`));
  const size = shadow?.length ?? r?.length;
  if (size === undefined) return undefined;
  const nothing = () => new Float32Array(size);
  return { shadow: shadow ?? nothing(), r: r ?? nothing(), g: g ?? nothing(), b: b ?? nothing() };
}
