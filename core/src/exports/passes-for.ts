import { passesNeeded, picturesNeeded } from '../apply/apply-changes.ts';
import type { Change } from '../changes/change.ts';
import type { Passes } from '../corrections/correction.ts';
import { readFillPictures } from '../version/fill-picture.ts';
import type { OpenPicture } from '../version/open-picture.ts';
import { passPlanes } from '../version/passes.ts';
import { VersionError } from '../version/version-error.ts';
import type { ExportEnv } from './export-kind.ts';

/**
 * Planes of those other passes of an open picture that the changes read, and of the picture files that they lay into it.
 * Rejects with {@link VersionError} if one of those cannot be had.
 */
export async function passesFor(
  open: OpenPicture,
  changes: readonly Change[],
  { crew, signal, maxMemory, readPicture }: ExportEnv,
): Promise<Passes> {
  const names = passesNeeded(changes);
  const passes = passPlanes(
    open.passes.filter((p) => names.includes(p.name)),
    open.image.channels,
  );
  const pictures = picturesNeeded(changes);
  if (pictures.length === 0) return passes;
  if (!readPicture)
    throw new VersionError(`The picture ${pictures[0]!.name} is laid into this one, but is not at hand.`);
  return { ...passes, ...(await readFillPictures(pictures, readPicture, { crew, signal, maxMemory })) };
}
