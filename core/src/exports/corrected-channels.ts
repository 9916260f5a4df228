import type { OpenPicture } from '../version/open-picture.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import type { ExrChannel } from '../formats/exr/types.ts';
import { floatsToHalves } from '../planes/half.ts';

/**
 * The file's channels with the picture replaced by corrected planes in half; all others as they were. Pixels
 * whose value did not change keep the bits they had if the picture was half already.
 */
export function withCorrected(open: OpenPicture, planes: RgbPlanes): ExrChannel[] {
  const { beauty, image } = open;
  if (!beauty)
    throw new Error('The file holds no picture, only data passes, so there is nothing to correct.');
  const fresh = new Map<string, Float32Array>([
    [beauty.r, planes.r],
    [beauty.g, planes.g],
    [beauty.b, planes.b],
  ]);
  const corrected = image.channels.flatMap((c): ExrChannel[] => {
    // A grey picture cannot hold a colour, so it leaves as three channels.
    if (beauty.r === beauty.g && c.name === beauty.r)
      return (['r', 'g', 'b'] as const).map((k) => ({
        ...c,
        name: k.toUpperCase(),
        type: 'half' as const,
        data: floatsToHalves(planes[k]),
      }));
    const plane = fresh.get(c.name);
    if (c.name === beauty.a && c.type !== 'half')
      return [{ ...c, type: 'half', data: floatsToHalves(c.data) }];
    return [plane ? { ...c, type: 'half', data: floatsToHalves(plane) } : c];
  });
  return corrected;
}
