import { inverse, through, type Matrix } from '../../colour/matrix.ts';
import type { ColourValue, PictureValue } from '../../fields/field.ts';
import { pictureKey, sampleFootprint } from '../../corrections/placed/picture-planes.ts';
import { boxHeight, boxWidth } from '../../planes/box.ts';
import { readFillPictures } from '../../version/fill-picture.ts';
import type { OpenPicture } from '../../version/open-picture.ts';
import { VersionError } from '../../version/version-error.ts';
import type { ParcelEnv, ParcelRequest } from '../kind.ts';

/** What cut-outs are put on: its light at a pixel of the data window, in the picture's own primaries. */
export type Ground = (place: number) => readonly [number, number, number];

/** A picture that fills the frame: as large as it must be, its middle in the middle, the rest cut off. */
async function pictureGround(open: OpenPicture, picture: PictureValue, env: ParcelEnv): Promise<Ground> {
  if (!picture.file) throw new VersionError('Choose the picture that the cut-outs are put on.');
  const { readPicture, crew, signal, maxMemory } = env;
  if (!readPicture) throw new VersionError(`The picture ${picture.name} is not at hand.`);
  const packed = (await readFillPictures([picture], readPicture, { crew, signal, maxMemory }))[
    pictureKey(picture.file)
  ]!;
  const [wide, high] = [packed[0]![0]!, packed[0]![1]!];
  const { dataWindow: data, displayWindow: frame, pixelAspectRatio } = open.image.header;
  const [width, height] = [boxWidth(frame), boxHeight(frame)];
  const scale = Math.max((width * pixelAspectRatio) / wide, height / high);
  const [across, down] = [pixelAspectRatio / (scale * wide), 1 / (scale * high)];
  const { toScreen } = open.planes;
  const back = toScreen && inverse(toScreen as Matrix);
  const out = new Float64Array(4);
  return (place) => {
    const x = data.xMin + (place % boxWidth(data)) - frame.xMin + 0.5 - width / 2;
    const y = data.yMin + Math.floor(place / boxWidth(data)) - frame.yMin + 0.5 - height / 2;
    sampleFootprint(packed, 0.5 + x * across, 0.5 + y * down, [across, 0], [0, down], out);
    // Beyond its border a picture is transparent, and the reading mixes that in.
    const a = out[3]! > 0 ? out[3]! : 1;
    const own = [out[0]! / a, out[1]! / a, out[2]! / a] as const;
    return back ? through(back, own) : own;
  };
}

/** The ground that is wanted; undefined for none. Rejects with VersionError for a picture that is not at hand. */
export async function groundOf(
  open: OpenPicture,
  { settings: s }: Pick<ParcelRequest, 'settings'>,
  env: ParcelEnv,
): Promise<Ground | undefined> {
  if (s['ground'] === 'picture') return pictureGround(open, s['picture'] as PictureValue, env);
  if (s['ground'] !== 'colour') return undefined;
  const { toScreen } = open.planes;
  const colour = s['colour'] as ColourValue;
  const own = toScreen ? through(inverse(toScreen as Matrix), colour) : colour;
  return () => own;
}
