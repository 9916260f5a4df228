import { BYTES } from './generated/mixtures.ts';
import { loadKernel, type KernelExports } from './load.ts';

interface Exports extends KernelExports {
  redAt(): number;
  greenAt(): number;
  blueAt(): number;
  windowsAt(): number;
  placesAt(): number;
  firstsAt(): number;
  partSlotsAt(): number;
  partSharesAt(): number;
  partRedAt(): number;
  partGreenAt(): number;
  partBlueAt(): number;
  runsAt(): number;
  begin(first: number, end: number, top: number, bottom: number): void;
  addRuns(count: number): void;
  solveTile(): number;
}

interface Picture {
  width: number;
  height: number;
  r: Float32Array;
  g: Float32Array;
  b: Float32Array;
}
/** The runs of an ID layer by row and column of tiles, as `mixtures/tile-runs.ts` makes them. */
interface TileRuns {
  start: Uint32Array;
  slot: Uint32Array;
  first: Uint32Array;
  end: Uint32Array;
  coverage: Float32Array;
}

/** A window as `mixtures/samples.ts` makes it: cells around a pixel with what they count. */
interface Window {
  width: number;
  count: number;
  level: ArrayLike<number>;
  dx: ArrayLike<number>;
  dy: ArrayLike<number>;
  weight: ArrayLike<number>;
}

const SIDE = 160;
const CELLS = SIDE * SIDE;
const TILE = 64;
const TILE_PIXELS = TILE * TILE;
const PARTS = 4 * TILE_PIXELS;
/** Runs that are added at a time. */
const RUNS = 4096;
/** Bytes of a window in the kernel: a head, and 96 samples. */
const WINDOW = 16 + 16 * 96;

export type MixturesKernel = ReturnType<typeof makeKernel>;
let made: MixturesKernel | undefined;

/** The kernel that solves the mixed pixels of a tile. */
export const mixturesKernel = (windows: readonly Window[]): MixturesKernel => (made ??= makeKernel(windows));

function makeKernel(windows: readonly Window[]) {
  const k = loadKernel<Exports>(BYTES);
  const { buffer } = k.memory;
  // Its memory is fixed: the views stay good.
  const floats = (at: number, count: number) => new Float32Array(buffer, at, count);
  const words = (at: number, count: number) => new Uint32Array(buffer, at, count);
  windows.forEach((w, z) => {
    const at = k.windowsAt() + z * WINDOW;
    new Int32Array(buffer, at, 1)[0] = w.count;
    floats(at + 4, 1)[0] = w.width;
    for (let i = 0; i < w.count; i++) {
      new Int32Array(buffer, at + 16 * (i + 1), 3).set([w.level[i]!, w.dx[i]!, w.dy[i]!]);
      floats(at + 16 * (i + 1) + 12, 1)[0] = w.weight[i]!;
    }
  });
  const found = {
    place: new Uint16Array(buffer, k.placesAt(), TILE_PIXELS),
    first: words(k.firstsAt(), TILE_PIXELS + 1),
    slot: words(k.partSlotsAt(), PARTS),
    coverage: floats(k.partSharesAt(), PARTS),
    r: floats(k.partRedAt(), PARTS),
    g: floats(k.partGreenAt(), PARTS),
    b: floats(k.partBlueAt(), PARTS),
  };
  const colours = {
    r: floats(k.redAt(), CELLS),
    g: floats(k.greenAt(), CELLS),
    b: floats(k.blueAt(), CELLS),
  };
  const runWords = words(k.runsAt(), 4 * RUNS);
  const runShares = floats(k.runsAt(), 4 * RUNS);
  return {
    /** Fills the finest level of the window whose upper left pixel is (left, top), like `fillPixels`. */
    fill(picture: Picture, runs: TileRuns, left: number, top: number): void {
      const { width, height } = picture;
      const [first, end] = [Math.max(0, left), Math.min(width, left + SIDE)];
      const [upper, lower] = [Math.max(0, top), Math.min(height, top + SIDE)];
      for (const plane of ['r', 'g', 'b'] as const)
        for (let y = upper; y < lower; y++)
          colours[plane].set(
            picture[plane].subarray(y * width + first, y * width + end),
            (y - top) * SIDE + first - left,
          );
      k.begin(first - left, end - left, upper - top, lower - top);
      const columns = Math.ceil(width / TILE);
      let n = 0;
      for (let y = upper; y < lower; y++) {
        const row = (y - top) * SIDE - left;
        const last = runs.start[y * columns + Math.ceil(end / TILE)]!;
        for (let i = runs.start[y * columns + Math.floor(first / TILE)]!; i < last; i++) {
          const [from, to] = [runs.first[i]!, runs.end[i]!];
          if (to <= first || from >= end) continue;
          runWords[4 * n] = row + (from > first ? from : first);
          runWords[4 * n + 1] = row + (to < end ? to : end);
          runWords[4 * n + 2] = runs.slot[i]!;
          runShares[4 * n + 3] = runs.coverage[i]!;
          if (++n < RUNS) continue;
          k.addRuns(n);
          n = 0;
        }
      }
      k.addRuns(n);
    },
    /** What `solvePlain` finds; the arrays are good until the next call. */
    solve() {
      const pixels = k.solveTile();
      return { pixels, parts: found.first[pixels]!, ...found };
    },
  };
}
