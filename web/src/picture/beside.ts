import {
  castOf,
  ChangeStack,
  computeStack,
  layersNamed,
  partOf,
  passesNeeded,
  picturesNeeded,
  readFillPictures,
  smallPicture,
  type CastLayer,
  type Crew,
  type DisplayUse,
  type Frame,
  type IdIndex,
  type ListedChange,
  type PictureValue,
  type RgbPlanes,
} from '@zesty-crow/core';
import type { FrameState } from './messages.ts';

/** A frame that is not the one on the screen, as far as a question about it needs. */
export interface Beside {
  frame: Frame;
  /** Scene-linear; absent where the frame has no picture. */
  planes: RgbPlanes | undefined;
  cast: CastLayer[];
}

/** Reads the picture of a frame and those of its ID layers that are named; `stored` has some that were made before. */
export async function readBeside(
  frame: Frame,
  names: readonly string[],
  signal: AbortSignal,
  stored: (layer: string) => Promise<IdIndex | undefined> = () => Promise.resolve(undefined),
): Promise<Beside> {
  const planes = frame.beauty && (await frame.picture({ signal }));
  const layers = frame.layers.filter((l) => l.sound && names.includes(l.name));
  const known = new Map<string, IdIndex>();
  for (const { name } of layers) {
    const index = await stored(name);
    if (index) known.set(name, index);
  }
  const left = layers.filter((l) => !known.has(l.name));
  const made = await frame.indexes(left, { signal });
  left.forEach((l, i) => known.set(l.name, made[i]!));
  return { frame, planes, cast: layers.map((l) => castOf(l, known.get(l.name)!)) };
}

/** What computing such a frame takes. */
interface StateEnv {
  crew: Crew;
  signal: AbortSignal;
  display: DisplayUse;
  /** The longer side of its picture. */
  side: number;
  readPicture: ((picture: PictureValue, signal: AbortSignal) => Promise<Uint8Array>) | undefined;
  stored: (layer: string, frame: Frame) => Promise<IdIndex | undefined>;
}

/**
 * A frame as its changes make it, small, and what each mask covers there; all that was read for it is let go afterwards.
 * Undefined if the frame has no picture.
 */
export async function stateOfFrame(
  frame: Frame,
  changes: readonly ListedChange[],
  { crew, signal, display, side, readPicture, stored }: StateEnv,
): Promise<FrameState | undefined> {
  const layers = changes.flatMap(layersNamed);
  const { planes, cast } = await readBeside(frame, layers, signal, (layer) => stored(layer, frame));
  if (!planes) return undefined;
  const there = new Set(frame.passes.map((p) => p.name));
  const passes = await frame.passPlanes(
    passesNeeded(changes).filter((n) => there.has(n)),
    { signal },
  );
  const fills = readPicture
    ? await readFillPictures(picturesNeeded(changes), (p) => readPicture(p, signal), { crew, signal })
    : {};
  const stack = new ChangeStack(planes, cast, {
    allocate: (bytes) => crew.allocate(bytes),
    passes: { ...passes, ...fills },
  });
  await computeStack(stack, changes, { crew, signal });
  const { width, height } = planes;
  return {
    picture: smallPicture(stack.result, { x0: 0, y0: 0, x1: width, y1: height }, side, display),
    parts: Object.fromEntries(
      changes.flatMap(({ id }) => {
        const mask = stack.mask(id);
        return mask ? [[id, partOf(mask)]] : [];
      }),
    ),
  };
}
