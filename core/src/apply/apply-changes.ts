import type { CastLayer } from '../cast/cast.ts';
import type { Change } from '../changes/change.ts';
import type { ListedChange } from '../changes/listed.ts';
import type { Passes } from '../corrections/correction.ts';
import { correctionOf } from '../corrections/registry.ts';
import { passesOf } from '../corrections/shared.ts';
import { alone } from '../crew/alone.ts';
import type { Crew, ShareOptions } from '../crew/work.ts';
import { findMixtures } from '../mixtures/find-mixtures.ts';
import type { PictureValue } from '../fields/field.ts';
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
 * Brings the picture of a stack up to date with a list: masks, mixed pixels, corrections. Tells what could not be computed.
 * @param onMixed told of tiles whose mixed pixels were taken apart, which matters to other stacks of the same picture
 */
export async function computeStack(
  stack: ChangeStack,
  changes: readonly ListedChange[],
  {
    crew = alone,
    onMixed,
    ...options
  }: ShareOptions & { crew?: Crew | undefined; onMixed?: (tiles: readonly number[]) => void } = {},
): Promise<StepFailure[]> {
  const tiles = new Set(stack.update(changes));
  const { signal } = options;
  for (const due of stack.mixturesDue()) {
    const found = await crew.share(findMixtures, due, { signal });
    for (const tile of stack.takeMixtures(due, found)) tiles.add(tile);
    onMixed?.([...due.tiles].filter((_, i) => found[i]));
  }
  return (await crew.share(computeTiles, stack.input([...tiles]), options)).flat();
}

/**
 * The picture with a whole change list applied at once, by the same computation as on the screen. Corrections that need
 * a pass which is not among `passes` are left out, as there.
 * Rejects with {@link ApplyError} if a correction fails.
 */
export async function applyChanges(
  open: { planes: RgbPlanes; cast: readonly CastLayer[] },
  changes: readonly ListedChange[],
  { crew = alone, passes = {}, ...options }: ShareOptions & { crew?: Crew | undefined; passes?: Passes } = {},
): Promise<RgbPlanes> {
  const stack = new ChangeStack(open.planes, open.cast, {
    allocate: (bytes) => crew.allocate(bytes),
    passes,
  });
  const failures = await computeStack(stack, changes, { crew, ...options });
  if (failures.length) throw new ApplyError(failures);
  return stack.result;
}

/** Names of the other passes that corrections of these changes read. */
export const passesNeeded = (changes: readonly Change[]): string[] => [
  ...new Set(
    changes.flatMap((change) =>
      change.corrections.flatMap(({ kind, on, values }) => {
        const correction = change.on && on ? correctionOf(kind) : undefined;
        return correction ? passesOf(correction, values) : [];
      }),
    ),
  ),
];

/** Passes that corrections of changes need and that are not there, each with its change. */
export const missingPasses = <C extends Change>(
  changes: readonly C[],
  there: readonly string[],
): { change: C; pass: string }[] =>
  changes.flatMap((change) =>
    passesNeeded([change]).flatMap((pass) => (there.includes(pass) ? [] : [{ change, pass }])),
  );

/** Picture files that corrections of these changes lay into the picture. */
export const picturesNeeded = (changes: readonly Change[]): PictureValue[] => {
  const found = new Map<string, PictureValue>();
  for (const change of changes)
    for (const { kind, on, values } of change.corrections)
      for (const f of (change.on && on && correctionOf(kind)?.fields) || []) {
        const value = f.kind === 'picture' ? (values[f.key] as PictureValue | undefined) : undefined;
        if (value?.file) found.set(value.file, value);
      }
  return [...found.values()];
};
