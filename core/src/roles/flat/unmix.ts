import type { Work } from '../../crew/work.ts';
import { COMPUTED_RANKS, type Ranks } from '../role.ts';
import type { Labels } from './colours.ts';

/** What mixed pixels are taken apart with; arrays lie in memory that all threads see. */
export interface MixedPixels {
  width: number;
  height: number;
  labels: Labels;
  /** The picture in the space in which it was mixed: three planes. */
  colours: readonly Float32Array[];
  /** Colours of the palette in that space, three numbers each. */
  palette: Float32Array;
  /** IDs by label; 0 is nothing. */
  idOf: Uint32Array;
  out: Ranks;
}

const { max, min, sqrt } = Math;
const BAND = 32;
/** Members that are tried: the most frequent around. */
const CANDIDATES = 6;
/** What one, two and three members cost: more must be worth it. */
const COST = [0.004, 0.004, 0.012] as const;
/** A mixture that costs less explains the pixel. */
const GOOD = 0.02;
/** Farthest that members are looked for, in pixels. */
const FAR = 64;
const TILE = 8;
const LEAST = 0.002;

/** Radii at which members are looked for, one after the other. */
const RADII: readonly number[] = (() => {
  const radii = [2];
  for (let r = 3; r <= FAR; r = r < 8 ? r + 1 : Math.floor(1.6 * r)) radii.push(r);
  return [...radii, FAR];
})();

/** A mixture: members among the candidates, and their shares. */
interface Mixture {
  cost: number;
  members: [number, number, number];
  shares: [number, number, number];
  count: number;
}

/**
 * The single member, pair or triple of some colours that explains a colour best: by least squares with shares that sum
 * to 1, none below −.02 (those are then cut to 0); the cost is the distance that is left, and a little for every
 * member.
 */
export function bestMixture(
  r: number,
  g: number,
  b: number,
  palette: Float32Array,
  candidates: ArrayLike<number>,
  n: number,
): Mixture {
  const best: Mixture = { cost: Infinity, members: [0, 0, 0], shares: [1, 0, 0], count: 1 };
  const take = (count: number, i: number, j: number, k: number, s: number, t: number) => {
    // Shares of j and k are s and t; i has the rest.
    const rest = 1 - s - t;
    if (rest < -0.02 || s < -0.02 || t < -0.02) return;
    let [u, v, w] = [max(0, rest), max(0, s), max(0, t)];
    const sum = u + v + w;
    [u, v, w] = [u / sum, v / sum, w / sum];
    const [a, c, d] = [3 * i, 3 * j, 3 * k];
    const er = u * palette[a]! + v * palette[c]! + w * palette[d]! - r;
    const eg = u * palette[a + 1]! + v * palette[c + 1]! + w * palette[d + 1]! - g;
    const eb = u * palette[a + 2]! + v * palette[c + 2]! + w * palette[d + 2]! - b;
    const cost = sqrt(er * er + eg * eg + eb * eb) + COST[count - 1]!;
    if (cost >= best.cost) return;
    best.cost = cost;
    best.count = count;
    best.members = [i, j, k];
    best.shares = [u, v, w];
  };
  for (let x = 0; x < n; x++) {
    const i = candidates[x]!;
    take(1, i, i, i, 0, 0);
    const [pr, pg, pb] = [palette[3 * i]!, palette[3 * i + 1]!, palette[3 * i + 2]!];
    const [dr, dg, db] = [r - pr, g - pg, b - pb];
    for (let y = x + 1; y < n; y++) {
      const j = candidates[y]!;
      const [er, eg, eb] = [palette[3 * j]! - pr, palette[3 * j + 1]! - pg, palette[3 * j + 2]! - pb];
      const ee = er * er + eg * eg + eb * eb;
      const de = dr * er + dg * eg + db * eb;
      take(2, i, j, j, de / (ee + 1e-12), 0);
      for (let z = y + 1; z < n; z++) {
        const k = candidates[z]!;
        const [fr, fg, fb] = [palette[3 * k]! - pr, palette[3 * k + 1]! - pg, palette[3 * k + 2]! - pb];
        const ff = fr * fr + fg * fg + fb * fb;
        const ef = er * fr + eg * fg + eb * fb;
        const df = dr * fr + dg * fg + db * fb;
        const det = ee * ff - ef * ef;
        if (!(det > 1e-9)) continue;
        take(3, i, j, k, (de * ff - df * ef) / det, (df * ee - de * ef) / det);
      }
    }
  }
  return best;
}

/** Counts labels of pure pixels around a pixel; by whole tiles of 8 where it is far. */
export function candidatesAround({
  width,
  height,
  labels,
}: Pick<MixedPixels, 'width' | 'height' | 'labels'>) {
  const counts = new Map<number, number>();
  const tilesX = Math.ceil(width / TILE);
  const tilesY = Math.ceil(height / TILE);
  const tiles = new Array<Map<number, number> | undefined>(tilesX * tilesY);
  const tile = (tx: number, ty: number): Map<number, number> => {
    let found = tiles[ty * tilesX + tx];
    if (found) return found;
    found = new Map();
    for (let y = ty * TILE; y < min(height, (ty + 1) * TILE); y++)
      for (let x = tx * TILE; x < min(width, (tx + 1) * TILE); x++) {
        const p = y * width + x;
        if (labels.pure[p]) found.set(labels.of[p]!, (found.get(labels.of[p]!) ?? 0) + 1);
      }
    tiles[ty * tilesX + tx] = found;
    return found;
  };
  const add = (label: number, n: number) => counts.set(label, (counts.get(label) ?? 0) + n);
  const chosen = new Int32Array(CANDIDATES);
  /** The most frequent ones within a radius, in `chosen`; returns how many there are. */
  const around = (x: number, y: number, r: number): number => {
    counts.clear();
    const [x0, x1] = [max(0, x - r), min(width - 1, x + r)];
    const [y0, y1] = [max(0, y - r), min(height - 1, y + r)];
    if (r > 8) {
      for (let ty = y0 >> 3; ty <= y1 >> 3; ty++)
        for (let tx = x0 >> 3; tx <= x1 >> 3; tx++) tile(tx, ty).forEach((n, label) => add(label, n));
    } else
      for (let v = y0; v <= y1; v++)
        for (let u = x0; u <= x1; u++) {
          const q = v * width + u;
          if (labels.pure[q]) add(labels.of[q]!, 1);
        }
    const sorted = [...counts].sort((a, b) => b[1] - a[1]);
    const n = min(CANDIDATES, sorted.length);
    for (let k = 0; k < n; k++) chosen[k] = sorted[k]![0];
    return n;
  };
  return { chosen, around };
}

/**
 * Takes mixed pixels of a flat-colour pass apart into shares of its colours. Pure pixels are wholly their own; for a
 * mixed one, members are looked for ever farther around until a mixture explains it. What nothing explains gets the
 * nearest mixture there is: behind glass, and in the middle of a wide blur, a colour may show nowhere pure.
 */
export const unmixColours: Work<MixedPixels, number> = {
  kind: 'unmix-colours',
  pieces: ({ height }) => Math.ceil(height / BAND),
  begin(input) {
    const { width, height, labels, colours, palette, idOf, out } = input;
    const { chosen, around } = candidatesAround(input);
    const [r, g, b] = colours as [Float32Array, Float32Array, Float32Array];
    return (band) => {
      let unexplained = 0;
      for (let y = band * BAND; y < min(height, (band + 1) * BAND); y++)
        for (let x = 0; x < width; x++) {
          const p = y * width + x;
          if (labels.pure[p]) {
            const id = idOf[labels.of[p]!]!;
            out.ids[0]![p] = id;
            out.coverage[0]![p] = id === 0 ? 0 : 1;
            continue;
          }
          let best: Mixture | undefined;
          for (const radius of RADII) {
            const n = around(x, y, radius);
            if (n < 2 && radius < FAR) continue;
            if (n > 0) best = bestMixture(r[p]!, g[p]!, b[p]!, palette, chosen, n);
            if (best && best.cost < GOOD) break;
          }
          if (!best) {
            best = { cost: 1, count: 1, members: [labels.of[p]!, 0, 0], shares: [1, 0, 0] };
          }
          if (best.cost >= GOOD) unexplained++;
          const order = [0, 1, 2].slice(0, best.count).sort((i, j) => best.shares[j]! - best.shares[i]!);
          let rank = 0;
          for (const i of order) {
            const id = idOf[best.members[i]!]!;
            const share = best.shares[i]!;
            if (id === 0 || !(share > LEAST) || rank === COMPUTED_RANKS) continue;
            out.ids[rank]![p] = id;
            out.coverage[rank]![p] = share;
            rank++;
          }
        }
      return unexplained;
    };
  },
};
