import type { RenderSettings } from './settings.ts';
import type { TileSums } from './tile-sums.ts';

/** Edge of the blocks of pixels whose noise is judged together; they divide a rectangle evenly. */
export const BLOCK = 8;
/** Samples before a picture counts as clean: of fewer, what is rare has not been met by either half. */
export const LEAST_SAMPLES = 32;
/** Share of what is judged that has to be clean. */
const SHARE = 0.95;
/** Darker pixels are judged against the deepest grey that a screen tells from black. */
const DARKEST = 0.03;
/** A block is left alone when those around it are nearly as clean, too: one that looks clean by chance stands alone. */
const AROUND = 1.5;

/** Blocks across and down a rectangle. */
const blocksOf = ({ area }: Pick<TileSums, 'area'>) => ({
  across: Math.ceil((area.x1 - area.x0) / BLOCK),
  down: Math.ceil((area.y1 - area.y0) / BLOCK),
});

/** Room for what `compareHalves` finds: for each block how many pixels were judged, and their noise. */
export function noNoise(tile: Pick<TileSums, 'area'>): Float64Array {
  const { across, down } = blocksOf(tile);
  return new Float64Array(2 * across * down);
}

function luminances({ light, samples }: TileSums): Float64Array {
  const stride = light.length / samples.length;
  const out = new Float64Array(samples.length);
  for (let p = 0, at = 0; p < out.length; p++)
    for (let k = 0; k < stride; k += 3, at += 3)
      out[p]! += 0.2126 * light[at]! + 0.7152 * light[at + 1]! + 0.0722 * light[at + 2]!;
  return out;
}

/**
 * The squared noise of one pixel's mean, undefined where there is nothing to judge. If two halves of the samples have the
 * means A and B, the mean of both has the variance (A - B)² / 4 in expectation, in whatever way the samples are drawn as
 * long as the halves are alike: those of Owen-scrambled Sobol points are, where their number is a power of two.
 */
function squaredNoise(tile: TileSums, now: Float64Array, p: number, light: boolean): number | undefined {
  const { half, halfAt, ids } = tile;
  const between = (at: number) => {
    const before = at < half.length ? half[at]! : 0;
    return (2 * before - now[at]!) / (2 * halfAt);
  };
  if (light) {
    const error = between(p) / Math.max(DARKEST, now[p]! / (2 * halfAt));
    return error * error;
  }
  // A pixel that a thing covers wholly, or nothing does, is known.
  const first = ids.head[p]!;
  if (first < 0 || now[first] === 2 * halfAt) return undefined;
  let most = 0;
  for (let e = first; e >= 0; e = ids.next[e]!) most = Math.max(most, between(e) ** 2);
  return most;
}

/**
 * Notes how much noise is left in each block of a rectangle when its samples have doubled, by comparing their halves: the
 * relative noise of the luminance, or that of the coverages where there is no light.
 * @param upTo samples of every pixel that is not finished
 */
export function compareHalves(tile: TileSums, upTo: number, light: boolean): void {
  if (upTo < 4 || (upTo & (upTo - 1)) !== 0) return;
  const now = light ? luminances(tile) : tile.ids.weight.slice(0, tile.ids.used);
  if (2 * tile.halfAt === upTo) {
    const { across } = blocksOf(tile);
    const wide = tile.area.x1 - tile.area.x0;
    const found = noNoise(tile);
    for (let p = 0; p < tile.samples.length; p++) {
      // What was finished before keeps the noise that it had then.
      if (tile.samples[p] !== upTo) continue;
      const squared = squaredNoise(tile, now, p, light);
      if (squared === undefined) continue;
      const block = across * Math.floor(p / wide / BLOCK) + Math.floor((p % wide) / BLOCK);
      found[2 * block]!++;
      // It falls with the samples: so much at one of them.
      found[2 * block + 1]! += squared * upTo;
    }
    for (let b = 0; b < found.length; b += 2) if (found[b]! > 0) tile.noise.set(found.subarray(b, b + 2), b);
  }
  tile.half = now;
  tile.halfAt = upTo;
}

/** What is known of a picture after a round of samples. */
export interface Verdict {
  /** The noise that 95 % of the pixels do not exceed; undefined before it can be told. */
  noise: number | undefined;
  /** It is as clean as was wished. */
  clean: boolean;
}

/** One block of the whole picture: its tile, where it is there, its noise now, and how many pixels that is about. */
interface Judged {
  tile: TileSums;
  x: number;
  y: number;
  noise: number;
  pixels: number;
}

/**
 * Judges a whole picture by the noise that is left in 95 % of its pixels, block by block, and where light is judged ends
 * sampling in the blocks that are clean. Of IDs alone only pixels count that several things share, and all of them go on.
 */
export function judge(tiles: readonly TileSums[], settings: RenderSettings): Verdict {
  const wide = Math.ceil(settings.width / BLOCK);
  const blocks = new Map<number, Judged>();
  let whole = true;
  for (const tile of tiles) {
    const { across, down } = blocksOf(tile);
    const { x0, x1, y0 } = tile.area;
    whole &&= tile.halfAt >= LEAST_SAMPLES;
    for (let y = 0; y < down; y++)
      for (let x = 0; x < across; x++) {
        const at = 2 * (across * y + x);
        const pixels = tile.noise[at]!;
        if (pixels === 0) continue;
        const taken = tile.samples[(x1 - x0) * BLOCK * y + BLOCK * x]!;
        const noise = Math.sqrt(tile.noise[at + 1]! / pixels / Math.max(1, taken));
        blocks.set(wide * (y0 / BLOCK + y) + x0 / BLOCK + x, { tile, x, y, noise, pixels });
      }
  }
  const noise = percentile([...blocks.values()]);
  const clean = settings.noise > 0 && whole && (noise ?? 0) <= settings.noise;
  if (settings.noise > 0 && settings.light && !clean) finishQuiet(blocks, wide, settings.noise);
  return { noise, clean };
}

function percentile(blocks: Judged[]): number | undefined {
  const all = blocks.reduce((n, b) => n + b.pixels, 0);
  let below = 0;
  for (const { noise, pixels } of blocks.sort((a, b) => a.noise - b.noise))
    if ((below += pixels) >= SHARE * all) return noise;
  return undefined;
}

function finishQuiet(blocks: ReadonlyMap<number, Judged>, wide: number, limit: number): void {
  for (const [at, { tile, x, y, noise }] of blocks) {
    if (noise > limit || tile.halfAt < LEAST_SAMPLES) continue;
    const around = [-wide - 1, -wide, -wide + 1, -1, 1, wide - 1, wide, wide + 1];
    if (around.some((step) => (blocks.get(at + step)?.noise ?? 0) > AROUND * limit)) continue;
    const across = tile.area.x1 - tile.area.x0;
    const down = tile.area.y1 - tile.area.y0;
    for (let row = BLOCK * y; row < Math.min(down, BLOCK * (y + 1)); row++)
      tile.finished.fill(1, across * row + BLOCK * x, across * row + Math.min(across, BLOCK * (x + 1)));
  }
}
