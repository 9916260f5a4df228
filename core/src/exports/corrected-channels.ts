import { asFloats } from '../formats/exr/samples.ts';
import type { ExrChannel, PixelType, Samples } from '../formats/exr/types.ts';
import { halfTable, toHalf } from '../planes/half.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import type { OpenPicture } from '../version/open-picture.ts';

/** Largest number that a half holds. */
const LARGEST_HALF = 65504;

export interface Corrected {
  channels: ExrChannel[];
  /** Pixels with a value beyond what their channel's type holds. */
  beyond: number;
}

/** Samples of a corrected plane in a channel's type. What did not change keeps the bits it had. */
function samplesOf({ data }: ExrChannel, plane: Float32Array, type: PixelType, beyond: Uint8Array): Samples {
  if (type === 'float') return plane;
  if (type === 'half') {
    const values = halfTable();
    const source = data instanceof Uint16Array ? data : undefined;
    const out = new Uint16Array(plane.length);
    for (let p = 0; p < plane.length; p++) {
      const v = plane[p]!;
      const kept = source?.[p];
      // Also for what is not a number, of which there are many kinds.
      if (kept !== undefined && Object.is(values[kept], v)) {
        out[p] = kept;
        continue;
      }
      out[p] = toHalf(v);
      if (Math.abs(v) > LARGEST_HALF && Number.isFinite(v)) beyond[p] = 1;
    }
    return out;
  }
  return Uint32Array.from(plane, (v) => Math.min(2 ** 32 - 1, Math.max(0, Math.round(v))));
}

/**
 * The file's channels with the picture replaced by corrected planes; all others as they were. Each keeps its type, so
 * that a list that does nothing leaves every bit as it was.
 * @param type another type for the picture's own channels, where it is wanted
 */
export function withCorrected(open: OpenPicture, planes: RgbPlanes, type?: PixelType): Corrected {
  const { beauty, image } = open;
  if (!beauty)
    throw new Error('The file holds no picture, only data passes, so there is nothing to correct.');
  const grey = beauty.r === beauty.g;
  const fresh = new Map<string, Float32Array>([
    [beauty.r, planes.r],
    [beauty.g, planes.g],
    [beauty.b, planes.b],
  ]);
  // A grey picture that was coloured leaves as three channels; one that stayed grey as it came.
  const coloured = grey && planes.r.some((v, p) => !Object.is(v, planes.g[p]) || !Object.is(v, planes.b[p]));
  const beyond = new Uint8Array(planes.r.length);
  const channels = image.channels.flatMap((c): ExrChannel[] => {
    const wanted = type ?? c.type;
    if (coloured && c.name === beauty.r)
      return (['r', 'g', 'b'] as const).map((k) => ({
        ...c,
        name: k.toUpperCase(),
        type: wanted,
        data: samplesOf(c, planes[k], wanted, beyond),
      }));
    const plane =
      fresh.get(c.name) ?? (c.name === beauty.a && type && type !== c.type ? asFloats(c) : undefined);
    return [plane ? { ...c, type: wanted, data: samplesOf(c, plane, wanted, beyond) } : c];
  });
  return { channels, beyond: beyond.reduce((sum, b) => sum + b, 0) };
}
