import type { Crew } from '../crew/work.ts';
import { alone } from '../crew/alone.ts';
import { pictureKey, packPicture } from '../corrections/placed/picture-planes.ts';
import type { Passes } from '../corrections/correction.ts';
import type { PictureValue } from '../fields/field.ts';
import { asFloats } from '../formats/exr/samples.ts';
import { throughMatrix, type Matrix } from '../colour/matrix.ts';
import { openFrame } from './open-frame.ts';

/** Most memory that a picture that is laid may take, unless it is said otherwise: as much as a frame in a page. */
const MOST_MEMORY = 3 * 2 ** 30;

/**
 * Reads picture files that are laid into the picture: whatever can be read as a version can be laid, PNG, JPEG, TIFF or
 * EXR. What it shows becomes scene-linear Rec. 709.
 * @param read bytes of one of them
 * Rejects with a sentence that names the file.
 */
export async function readFillPictures(
  pictures: readonly PictureValue[],
  read: (picture: PictureValue) => Promise<Uint8Array>,
  {
    crew = alone,
    signal,
    maxMemory = MOST_MEMORY,
  }: {
    crew?: Crew | undefined;
    signal?: AbortSignal | undefined;
    /** Memory that one of them may need by its header, in bytes; more is refused before it is taken. */
    maxMemory?: number | undefined;
  } = {},
): Promise<Passes> {
  const planes: Record<string, readonly Float32Array[]> = {};
  for (const picture of pictures) {
    const file = { role: 'picture', name: picture.name, frame: null };
    const frame = await openFrame([file], undefined, () => read(picture), { crew, signal, maxMemory });
    const shown = await frame.picture({ signal });
    const name = frame.beauty?.a;
    const [alpha] = name === undefined ? [] : await frame.channels((n) => n === name, { signal });
    const own = { ...shown, r: shown.r.slice(), g: shown.g.slice(), b: shown.b.slice() };
    if (shown.toScreen) throughMatrix(own, own.r.length, shown.toScreen as Matrix);
    planes[pictureKey(picture.file)] = packPicture(own, alpha && asFloats(alpha), (n) => crew.allocate(n));
  }
  return planes;
}
