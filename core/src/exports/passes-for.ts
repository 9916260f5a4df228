import { passesNeeded } from '../apply/apply-changes.ts';
import type { Change } from '../changes/change.ts';
import type { Passes } from '../corrections/correction.ts';
import type { OpenPicture } from '../version/open-picture.ts';
import { passPlanes } from '../version/passes.ts';

/** Planes of those other passes of an open picture that the changes read. */
export function passesFor(open: OpenPicture, changes: readonly Change[]): Passes {
  const names = passesNeeded(changes);
  return passPlanes(
    open.passes.filter((p) => names.includes(p.name)),
    open.image.channels,
  );
}
