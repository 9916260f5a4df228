import type { CastLayer } from '../cast/cast.ts';
import type { Change } from '../changes/change.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import { ChangeStack } from './change-stack.ts';

/** The picture with a whole change list applied at once. */
export function applyChanges(
  open: { planes: RgbPlanes; cast: readonly CastLayer[] },
  changes: readonly Change[],
  onProgress?: (done: number) => void,
): RgbPlanes {
  const stack = new ChangeStack(open.planes, open.cast);
  const tiles = stack.update(changes);
  tiles.forEach((tile, i) => {
    stack.renderTile(tile);
    if (i % 64 === 0) onProgress?.(i / tiles.length);
  });
  return stack.result;
}
