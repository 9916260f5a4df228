import { TILE, TILE_PIXELS } from '../planes/tiles.ts';
import { OTHERS, PARTS, type Mixtures } from './mixture.ts';
import { AROUND, MEMBERS, PURE, type Level } from './neighbourhood.ts';
import { MOST_SAMPLES, SAMPLES, WIDTHS, type Samples } from './samples.ts';

/** Coverage that is left over counts from here on. */
const LEAST = 0.004;
/** Ridge of the regression, as a share of the weights: towards the pixel's own colour, which is plain mixing. */
const RIDGE = 1e-4;
/** Ridge of the variances towards their mean, and the least of each as a share of the largest. */
const VARIANCE = 0.005;
const ROUNDS = 6;

const { max, min, sqrt } = Math;

/** Memory of one pixel's regression. Matrices have PARTS columns. */
class Regression {
  /** Of the pixel: slots and coverages of its parts; whether the last is all others. */
  n = 0;
  others = false;
  readonly slot = new Uint32Array(PARTS);
  readonly share = new Float64Array(PARTS);
  /** Of each sample: coverages of the parts, colour, weight. */
  count = 0;
  readonly s = new Float64Array(MOST_SAMPLES * PARTS);
  readonly c = new Float64Array(MOST_SAMPLES * 3);
  readonly w = new Float64Array(MOST_SAMPLES);
  readonly a = new Float64Array(PARTS * PARTS);
  readonly rhs = new Float64Array(PARTS * 3);
  /** Colours of the parts, and their variances. */
  readonly f = new Float64Array(PARTS * 3);
  readonly sigma = new Float64Array(PARTS);

  /** Weighted least squares C = S·F with a ridge towards the pixel's colour, by Cholesky. */
  solve(own: readonly number[]): void {
    const { n, a, rhs, s, c, w, f } = this;
    a.fill(0);
    rhs.fill(0);
    let weights = 0;
    for (let k = 0; k < this.count; k++) {
      const weight = w[k]!;
      weights += weight;
      for (let i = 0; i < n; i++) {
        const si = weight * s[k * PARTS + i]!;
        if (si === 0) continue;
        for (let j = 0; j <= i; j++) a[i * PARTS + j]! += si * s[k * PARTS + j]!;
        for (let p = 0; p < 3; p++) rhs[i * 3 + p]! += si * c[k * 3 + p]!;
      }
    }
    const ridge = RIDGE * weights;
    for (let i = 0; i < n; i++) {
      a[i * PARTS + i]! += ridge;
      for (let p = 0; p < 3; p++) rhs[i * 3 + p]! += ridge * own[p]!;
    }
    for (let j = 0; j < n; j++) {
      let d = a[j * PARTS + j]!;
      for (let k = 0; k < j; k++) d -= a[j * PARTS + k]! ** 2;
      d = sqrt(max(d, 1e-12));
      a[j * PARTS + j] = d;
      for (let i = j + 1; i < n; i++) {
        let v = a[i * PARTS + j]!;
        for (let k = 0; k < j; k++) v -= a[i * PARTS + k]! * a[j * PARTS + k]!;
        a[i * PARTS + j] = v / d;
      }
    }
    for (let p = 0; p < 3; p++) {
      for (let i = 0; i < n; i++) {
        let v = rhs[i * 3 + p]!;
        for (let k = 0; k < i; k++) v -= a[i * PARTS + k]! * f[k * 3 + p]!;
        f[i * 3 + p] = v / a[i * PARTS + i]!;
      }
      for (let i = n - 1; i >= 0; i--) {
        let v = f[i * 3 + p]!;
        for (let k = i + 1; k < n; k++) v -= a[k * PARTS + i]! * f[k * 3 + p]!;
        f[i * 3 + p] = v / a[i * PARTS + i]!;
      }
    }
  }

  /** Fits r² ≈ Σ s²σ², not negative, with a ridge towards the mean r². Returns the largest. */
  variances(): number {
    const { n, s, c, w, f, sigma, a: m } = this;
    const v = this.rhs;
    m.fill(0);
    v.fill(0);
    let weights = 0;
    let mean = 0;
    for (let k = 0; k < this.count; k++) {
      let r2 = 0;
      for (let p = 0; p < 3; p++) {
        let r = c[k * 3 + p]!;
        for (let i = 0; i < n; i++) r -= s[k * PARTS + i]! * f[i * 3 + p]!;
        r2 += r * r;
      }
      weights += w[k]!;
      mean += w[k]! * r2;
      for (let i = 0; i < n; i++) {
        const q = w[k]! * s[k * PARTS + i]! ** 2;
        for (let j = 0; j <= i; j++) m[i * PARTS + j]! += q * s[k * PARTS + j]! ** 2;
        v[i]! += q * r2;
      }
    }
    mean /= weights + 1e-30;
    for (let i = 0; i < n; i++) {
      m[i * PARTS + i]! += VARIANCE * weights;
      v[i]! += VARIANCE * weights * mean;
      sigma[i] = mean;
    }
    for (let round = 0; round < ROUNDS; round++)
      for (let i = 0; i < n; i++) {
        let t = v[i]!;
        for (let j = 0; j < n; j++)
          if (j !== i) t -= (j < i ? m[i * PARTS + j]! : m[j * PARTS + i]!) * sigma[j]!;
        sigma[i] = max(0, t / m[i * PARTS + i]!);
      }
    let most = 1e-12;
    for (let i = 0; i < n; i++) most = max(most, sigma[i]!);
    for (let i = 0; i < n; i++) sigma[i]! += VARIANCE * most;
    return most;
  }

  /** Lets samples count less where their members vary more. */
  reweigh(most: number): void {
    const { n, s, w, sigma } = this;
    for (let k = 0; k < this.count; k++) {
      let v = 0;
      for (let i = 0; i < n; i++) v += s[k * PARTS + i]! ** 2 * sigma[i]!;
      w[k]! /= v / most + 0.05;
    }
  }

  /** Shares what is left of the pixel's colour by variance; every part stays between nothing and all of its light. */
  shareRest(own: readonly number[]): void {
    const { n, share, sigma, f } = this;
    for (let round = 0; round < 3; round++) {
      let clipped = false;
      for (let p = 0; p < 3; p++) {
        const all = own[p]!;
        let rest = all;
        for (let i = 0; i < n; i++) rest -= share[i]! * f[i * 3 + p]!;
        const takes = (i: number) =>
          round === 0 || (rest > 0 ? share[i]! * f[i * 3 + p]! < all : f[i * 3 + p]! > 0);
        let sum = 0;
        for (let i = 0; i < n; i++) if (takes(i)) sum += share[i]! ** 2 * sigma[i]!;
        if (sum > 0)
          for (let i = 0; i < n; i++) if (takes(i)) f[i * 3 + p]! += ((share[i]! * sigma[i]!) / sum) * rest;
        if (all < 0) continue;
        for (let i = 0; i < n; i++) {
          const most = all / share[i]!;
          const held = min(most, max(0, f[i * 3 + p]!));
          if (held !== f[i * 3 + p]) clipped = true;
          f[i * 3 + p] = held;
        }
      }
      if (!clipped) return;
    }
  }
}

/** The parts of a pixel: its members, the largest; what is not told apart is one. False if it shows one alone. */
function partsOf(r: Regression, { count, slot, coverage }: Level, cell: number): boolean {
  const from = cell * MEMBERS;
  const members = count[cell]!;
  r.n = 0;
  r.others = false;
  if (members <= 0 || coverage[from]! > PURE) return false;
  let left = 1;
  for (let k = 0; k < members && r.n < PARTS; k++) {
    r.slot[r.n] = slot[from + k]!;
    r.share[r.n] = coverage[from + k]!;
    left -= coverage[from + k]!;
    r.n++;
  }
  if (left <= LEAST) return r.n > 1;
  if (r.n === PARTS) left += r.share[--r.n]!;
  r.slot[r.n] = OTHERS;
  r.share[r.n++] = left;
  r.others = true;
  return r.n > 1;
}

/** Coverages of the pixel's parts in a cell; returns how much of the cell is foreign to the pixel. */
function sharesIn(
  r: Regression,
  { count, slot, coverage }: Level,
  cell: number,
  out: Float64Array,
  at: number,
) {
  const { n } = r;
  out.fill(0, at, at + PARTS);
  let known = 0;
  const named = r.others ? n - 1 : n;
  for (let k = cell * MEMBERS, end = k + count[cell]!; k < end; k++)
    for (let i = 0; i < named; i++)
      if (slot[k] === r.slot[i]) {
        out[at + i]! += coverage[k]!;
        known += coverage[k]!;
        break;
      }
  const rest = 1 - known;
  if (!r.others) return rest;
  if (rest > 0) out[at + n - 1] = rest;
  return 0;
}

/** Which window is looked at: the more any part's coverage changes over 5x5 pixels, the narrower. */
function samplesAt(r: Regression, pixels: Level, x: number, y: number): Samples {
  const { n, s } = r;
  const low = [2, 2, 2, 2];
  const high = [-1, -1, -1, -1];
  for (let dy = -2; dy <= 2; dy++)
    for (let dx = -2; dx <= 2; dx++) {
      const cell = (y + dy) * pixels.side + x + dx;
      if (pixels.count[cell]! < 0) continue;
      sharesIn(r, pixels, cell, s, 0);
      for (let i = 0; i < n; i++) {
        low[i] = min(low[i]!, s[i]!);
        high[i] = max(high[i]!, s[i]!);
      }
    }
  let range = 0.02;
  for (let i = 0; i < n; i++) range = max(range, high[i]! - low[i]!);
  const width = 3 / range - 2.5;
  let z = 0;
  while (z < WIDTHS.length - 1 && WIDTHS[z]! < width) z++;
  return SAMPLES[z]!;
}

function gather(r: Regression, levels: readonly Level[], x: number, y: number, samples: Samples): void {
  r.count = 0;
  for (let k = 0; k < samples.count; k++) {
    const l = samples.level[k]!;
    const level = levels[l]!;
    const cell = ((y >> l) + samples.dy[k]!) * level.side + (x >> l) + samples.dx[k]!;
    if (level.count[cell]! < 0) continue;
    const rest = sharesIn(r, level, cell, r.s, r.count * PARTS);
    if (rest > 0.5) continue;
    r.w[r.count] = samples.weight[k]! / (1 + 400 * rest * rest);
    r.c[r.count * 3] = level.r[cell]!;
    r.c[r.count * 3 + 1] = level.g[cell]!;
    r.c[r.count * 3 + 2] = level.b[cell]!;
    r.count++;
  }
}

/** Room for the mixtures of any tile. */
export const newMixtures = (): Mixtures => ({
  pixels: 0,
  parts: 0,
  place: new Uint16Array(TILE_PIXELS),
  first: new Uint32Array(TILE_PIXELS + 1),
  slot: new Uint32Array(PARTS * TILE_PIXELS),
  coverage: new Float32Array(PARTS * TILE_PIXELS),
  r: new Float32Array(PARTS * TILE_PIXELS),
  g: new Float32Array(PARTS * TILE_PIXELS),
  b: new Float32Array(PARTS * TILE_PIXELS),
});

/**
 * Finds what the mixed pixels of a tile are made of: for each of them a regression over all cells around it that show
 * the same members, C = Σ sᵢFᵢ, in windows that are narrow at sharp edges and wide where coverage changes slowly; the
 * rest is shared by how much each member varies. In plain code, which the kernel is held against.
 * @param levels the neighbourhood of the tile, filled
 * @param out written
 */
export function solvePlain(levels: readonly Level[], out: Mixtures): void {
  const pixels = levels[0]!;
  const r = new Regression();
  const own = [0, 0, 0];
  out.pixels = out.parts = 0;
  for (let place = 0; place < TILE_PIXELS; place++) {
    const x = AROUND + (place & (TILE - 1));
    const y = AROUND + Math.floor(place / TILE);
    const cell = y * pixels.side + x;
    if (!partsOf(r, pixels, cell)) continue;
    own[0] = pixels.r[cell]!;
    own[1] = pixels.g[cell]!;
    own[2] = pixels.b[cell]!;
    gather(r, levels, x, y, samplesAt(r, pixels, x, y));
    r.solve(own);
    r.reweigh(r.variances());
    r.solve(own);
    r.variances();
    r.shareRest(own);
    out.place[out.pixels] = place;
    out.first[out.pixels++] = out.parts;
    for (let i = 0; i < r.n; i++) {
      out.slot[out.parts] = r.slot[i]!;
      out.coverage[out.parts] = r.share[i]!;
      out.r[out.parts] = r.f[i * 3]!;
      out.g[out.parts] = r.f[i * 3 + 1]!;
      out.b[out.parts++] = r.f[i * 3 + 2]!;
    }
  }
  out.first[out.pixels] = out.parts;
}
