/** Which pixels of a picture a round takes samples of: all, or those on a grid that lies within the next finer one. */
export type Grid = 1 | 2 | 4 | 16;

/**
 * Whether a pixel is on a grid: all pixels, or every second, fourth or sixteenth square of two by two, the second ones like
 * the fields of a chessboard. Squares, since what the renderer finds within one's reach serves all of its pixels.
 */
export function onGrid(grid: Grid, x: number, y: number): boolean {
  if (grid === 1) return true;
  const [across, down] = [x >> 1, y >> 1];
  return grid === 2 ? ((across + down) & 1) === 0 : ((across | down) & (grid === 4 ? 1 : 3)) === 0;
}

/** One pass over the whole picture. */
export interface Round {
  /** Samples that the pixels of the grid have afterwards. */
  upTo: number;
  grid: Grid;
}

/** So many pixels a first round takes at most, so that the whole frame is seen after about a second. */
const FIRST = 600_000;
/** From so many samples on a round is at most so many more, so that one is not waited for too long. */
const LONGEST = 128;

/**
 * Samples that a pixel has after its next round: one, four, then the next power of two, since noise is judged by halves of
 * such; of many samples the next multiple of the longest round.
 */
export function nextLevel(from: number, most: number): number {
  if (from >= LONGEST) return Math.min(most, LONGEST * (Math.floor(from / LONGEST) + 1));
  return Math.min(most, from === 0 ? 1 : from < 4 ? 4 : 2 ** (Math.floor(Math.log2(from)) + 1));
}

/**
 * The rounds in which a picture is rendered: first one sample of some pixels of the whole frame, then of all, then four,
 * then twice as many each time, so that what is done in a round differs from what is not by little more than one sees.
 * @param there samples that every pixel has already
 * @param limit asked before each round but the first ones: so many samples may a pixel have after it; none ends it
 */
export function* roundsOf(
  { width, height, samples }: { width: number; height: number; samples: number },
  limit: (from: number) => number = () => samples,
  there = 0,
): Generator<Round> {
  if (there === 0)
    for (const grid of [16, 4, 2] as const)
      if (grid === 2 || (width * height) / (grid / 4) > FIRST) yield { upTo: 1, grid };
  for (let from = there; ;) {
    // The first one is never left out: until then some pixels have none.
    const upTo = from === 0 ? 1 : Math.min(nextLevel(from, samples), limit(from));
    if (upTo <= from) return;
    yield { upTo, grid: 1 };
    from = upTo;
  }
}
