/** Bytes that the kept pictures of a sequence may take together. */
const BUDGET = 512 * 2 ** 20;
/** Longer sides than this are not worth their memory on a screen. */
const LONGEST = 1280;

/** The longer side at which so many frames fit into memory together, in pixels. */
export function sideFor(count: number, { width, height }: { width: number; height: number }): number {
  const shape = Math.min(width, height) / Math.max(width, height);
  const fits = Math.sqrt(BUDGET / (4 * Math.max(1, count) * shape));
  return Math.floor(Math.min(LONGEST, Math.max(width, height), fits));
}

/** Frames between an in and an out point, both included; without one, from the first or to the last. */
export const within = (frames: readonly number[], { first, last }: FrameSpan): number[] =>
  frames.filter((f) => f >= (first ?? -Infinity) && f <= (last ?? Infinity));

export interface FrameSpan {
  first?: number | undefined;
  last?: number | undefined;
}

/** The frame to be made next: the first one that is not there, from the present one on and around. */
export function nextToMake(
  frames: readonly number[],
  at: number | undefined,
  isThere: (frame: number) => boolean,
): number | undefined {
  const from = Math.max(0, frames.indexOf(at ?? NaN));
  return [...frames.slice(from), ...frames.slice(0, from)].find((f) => !isThere(f));
}

/**
 * The frame that is played so long after the start, over and over again. A missing number takes its time, as it would in
 * the finished film: the frame before it stays.
 * @param rate frames a second
 */
export function frameAt(
  frames: readonly number[],
  start: number | undefined,
  milliseconds: number,
  rate: number,
): number | undefined {
  const [first, last] = [frames[0], frames.at(-1)];
  if (first === undefined || last === undefined) return undefined;
  const from = start !== undefined && start >= first && start <= last ? start - first : 0;
  const number = first + ((from + Math.floor((milliseconds * rate) / 1000)) % (last - first + 1));
  return frames.findLast((f) => f <= number);
}
