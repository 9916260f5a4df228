import type { CastLayer } from '../cast/cast.ts';
import type { Change } from '../changes/change.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import { ChangeStack } from './change-stack.ts';

/** Applies a whole change list at once. Picks that mean nothing in this picture are returned by change. */
export function applyChanges(
  open: { planes: RgbPlanes; cast: readonly CastLayer[] },
  changes: readonly Change[],
  onProgress?: (done: number) => void,
): { planes: RgbPlanes; missing: { change: Change; member: string; layer: string }[] } {
  const stack = new ChangeStack(open.planes, open.cast);
  const tiles = stack.update(changes);
  tiles.forEach((tile, i) => {
    stack.renderTile(tile);
    if (i % 64 === 0) onProgress?.(i / tiles.length);
  });
  const missing = changes.flatMap((change) =>
    (change.on ? (stack.mask(change.id)?.missing ?? []) : []).map(({ member, layer }) => ({
      change,
      member,
      layer,
    })),
  );
  return { planes: stack.result, missing };
}
