import { BYTES } from './generated/mixtures.ts';
import { loadKernel, type KernelExports } from './load.ts';

interface Exports extends KernelExports {
  redAt(): number;
  greenAt(): number;
  blueAt(): number;
  countsAt(): number;
  slotsAt(): number;
  coveragesAt(): number;
  windowsAt(): number;
  placesAt(): number;
  firstsAt(): number;
  partSlotsAt(): number;
  partSharesAt(): number;
  partRedAt(): number;
  partGreenAt(): number;
  partBlueAt(): number;
  solveTile(): number;
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
const TILE_PIXELS = 4096;
const PARTS = 4 * TILE_PIXELS;
/** Bytes of a window in the kernel: a head, and 96 samples. */
const WINDOW = 16 + 16 * 96;

export type MixturesKernel = ReturnType<typeof makeKernel>;
let made: MixturesKernel | undefined;

/** The kernel that solves the mixed pixels of a tile; `pixels` is its memory, to be filled like a `Level`. */
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
  return {
    pixels: {
      side: SIDE,
      r: floats(k.redAt(), CELLS),
      g: floats(k.greenAt(), CELLS),
      b: floats(k.blueAt(), CELLS),
      count: new Int8Array(buffer, k.countsAt(), CELLS),
      slot: words(k.slotsAt(), 8 * CELLS),
      coverage: floats(k.coveragesAt(), 8 * CELLS),
    },
    /** What `solvePlain` finds; the arrays are good until the next call. */
    solve() {
      const pixels = k.solveTile();
      return { pixels, parts: found.first[pixels]!, ...found };
    },
  };
}
