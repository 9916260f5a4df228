import { plainMemory, type Allocate } from '../../planes/tile-store.ts';

/**
 * A picture that is laid on a part, as planes for {@link Passes}: first its width and height, then red, green, blue and
 * alpha of the picture and of its half, quarter, … down to one pixel. Scene-linear Rec. 709, colours times alpha, so that
 * means are right where it is transparent.
 */
export type PicturePlanes = readonly Float32Array[];

/** The name under which a picture's planes stand among the passes. */
export const pictureKey = (file: string): string => `picture:${file}`;

interface Level {
  width: number;
  height: number;
  planes: readonly Float32Array[];
}

function halved({ width, height, planes }: Level, allocate: Allocate): Level {
  const [w, h] = [Math.max(1, width >> 1), Math.max(1, height >> 1)];
  return {
    width: w,
    height: h,
    planes: planes.map((plane) => {
      const out = new Float32Array(allocate(4 * w * h));
      for (let y = 0; y < h; y++)
        for (let x = 0; x < w; x++) {
          const [x0, y0] = [2 * x, 2 * y];
          const [x1, y1] = [Math.min(x0 + 1, width - 1), Math.min(y0 + 1, height - 1)];
          out[y * w + x] =
            (plane[y0 * width + x0]! +
              plane[y0 * width + x1]! +
              plane[y1 * width + x0]! +
              plane[y1 * width + x1]!) /
            4;
        }
      return out;
    }),
  };
}

/** Longest side that is kept: no part of a frame shows more of it. */
const MOST = 4096;

/**
 * Packs a picture with its smaller ones.
 * @param alpha 0 to 1; undefined where it covers everything
 */
export function packPicture(
  {
    width,
    height,
    r,
    g,
    b,
  }: { width: number; height: number; r: Float32Array; g: Float32Array; b: Float32Array },
  alpha: Float32Array | undefined,
  allocate: Allocate = plainMemory,
): PicturePlanes {
  const plane = (of: (i: number) => number) => {
    const out = new Float32Array(allocate(4 * width * height));
    for (let i = 0; i < out.length; i++) out[i] = of(i);
    return out;
  };
  const a = plane((i) => (alpha ? Math.min(1, Math.max(0, alpha[i]!)) : 1));
  const colour = (c: Float32Array) => plane((i) => (Number.isFinite(c[i]!) ? c[i]! * a[i]! : 0));
  let level: Level = { width, height, planes: [colour(r), colour(g), colour(b), a] };
  while (Math.max(level.width, level.height) > MOST) level = halved(level, allocate);
  const size = new Float32Array(allocate(8));
  size.set([level.width, level.height]);
  const all: Float32Array[] = [size, ...level.planes];
  while (level.width > 1 || level.height > 1) {
    level = halved(level, allocate);
    all.push(...level.planes);
  }
  return all;
}

const unpacked = new WeakMap<Float32Array, readonly Level[]>();

function levelsOf(packed: PicturePlanes): readonly Level[] {
  const known = unpacked.get(packed[0]!);
  if (known) return known;
  const levels: Level[] = [];
  let [width, height] = [packed[0]![0]!, packed[0]![1]!];
  for (let at = 1; at < packed.length; at += 4) {
    levels.push({ width, height, planes: packed.slice(at, at + 4) });
    [width, height] = [Math.max(1, width >> 1), Math.max(1, height >> 1)];
  }
  unpacked.set(packed[0]!, levels);
  return levels;
}

/** Adds what a level shows at a place, 0 to 1 across and down, times `by`; beyond its border it is transparent. */
function addBilinear(
  { width, height, planes }: Level,
  u: number,
  v: number,
  by: number,
  out: Float64Array,
): void {
  const [x, y] = [u * width - 0.5, v * height - 0.5];
  const [i, j] = [Math.floor(x), Math.floor(y)];
  const [fx, fy] = [x - i, y - j];
  for (let dy = 0; dy < 2; dy++)
    for (let dx = 0; dx < 2; dx++) {
      const [px, py] = [i + dx, j + dy];
      if (px < 0 || py < 0 || px >= width || py >= height) continue;
      const w = by * (dx ? fx : 1 - fx) * (dy ? fy : 1 - fy);
      for (let k = 0; k < 4; k++) out[k]! += w * planes[k]![py * width + px]!;
    }
}

/** As much longer than wide a pixel's footprint may be before it is taken for less long. */
const MOST_LONG = 8;

/**
 * What a pixel shows of a picture, colours times alpha and alpha: the mean over its footprint, which is long and narrow
 * where the picture is seen at a slant (trilinear in the smaller pictures, several times along the longer side).
 * @param u, v the middle, 0 to 1; the others how far these go from one pixel to the next, across and down
 */
export function sampleFootprint(
  packed: PicturePlanes,
  u: number,
  v: number,
  across: readonly [u: number, v: number],
  down: readonly [u: number, v: number],
  out: Float64Array,
): void {
  const levels = levelsOf(packed);
  const { width, height } = levels[0]!;
  const lengthOf = ([du, dv]: readonly [number, number]) => Math.hypot(du * width, dv * height);
  const [a, d] = [lengthOf(across), lengthOf(down)];
  const long = a > d ? across : down;
  const most = Math.max(a, d, 1e-9);
  const least = Math.max(Math.min(a, d), most / MOST_LONG);
  const count = Math.min(MOST_LONG, Math.max(1, Math.ceil(most / least - 1e-6)));
  const level = Math.min(levels.length - 1, Math.max(0, Math.log2(least)));
  const lower = Math.floor(level);
  const upper = Math.min(levels.length - 1, lower + 1);
  out.fill(0);
  for (let n = 0; n < count; n++) {
    const t = (n + 0.5) / count - 0.5;
    const [x, y] = [u + t * long[0], v + t * long[1]];
    addBilinear(levels[lower]!, x, y, (1 - (level - lower)) / count, out);
    if (level > lower) addBilinear(levels[upper]!, x, y, (level - lower) / count, out);
  }
}
