import type { CastLayer } from '../cast/cast.ts';
import type { Change } from '../changes/change.ts';
import { alone } from '../crew/alone.ts';
import type { Crew, ShareOptions } from '../crew/work.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import { ChangeStack } from './change-stack.ts';
import { computeTiles } from './compute-tiles.ts';
import type { StepFailure } from './stack-input.ts';

/** A correction of a change could not be computed, so that the picture would not be what the screen showed. */
export class ApplyError extends Error {
  override name = 'ApplyError';
  constructor(readonly failures: readonly StepFailure[]) {
    super(`A correction could not be computed: ${failures[0]!.message}`);
  }
}

/**
 * The picture with a whole change list applied at once, by the same computation as on the screen.
 * Rejects with {@link ApplyError} if a correction fails.
 */
export async function applyChanges(
  open: { planes: RgbPlanes; cast: readonly CastLayer[] },
  changes: readonly Change[],
  { crew = alone, ...options }: ShareOptions & { crew?: Crew | undefined } = {},
): Promise<RgbPlanes> {
  const stack = new ChangeStack(open.planes, open.cast, { allocate: (bytes) => crew.allocate(bytes) });
  const told = await crew.share(computeTiles, stack.input(stack.update(changes)), options);
  const failures = told.flat();
  if (failures.length) throw new ApplyError(failures);
  return stack.result;
}
