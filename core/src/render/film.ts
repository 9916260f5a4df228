import type { Area } from '../planes/area.ts';
import type { RankPlanes } from '../idlayers/rank-planes.ts';
import type { Scene } from '../scene/scene.ts';
import { RankSorter, type Sightings } from './coverage.ts';
import { LIGHT, LIGHT_PARTS, SURFACE, type LightPart } from './gather.ts';
import type { RenderSettings } from './settings.ts';
import { CATCHER, type TileSums } from './tile-sums.ts';

/** Edge of the rectangles in which a picture is rendered. */
const RENDER_TILE = 32;

/** The rectangles of a picture, from its middle outwards: what is looked at first comes first. */
export function renderTiles(width: number, height: number): Area[] {
  const areas: Area[] = [];
  for (let y0 = 0; y0 < height; y0 += RENDER_TILE)
    for (let x0 = 0; x0 < width; x0 += RENDER_TILE)
      areas.push({ x0, y0, x1: Math.min(x0 + RENDER_TILE, width), y1: Math.min(y0 + RENDER_TILE, height) });
  const far = (a: Area) => Math.hypot((a.x0 + a.x1) / 2 - width / 2, (a.y0 + a.y1) / 2 - height / 2);
  return areas.sort((a, b) => far(a) - far(b));
}

/** A rendered picture: the sums of its rectangles, from which whole planes of any pass are made. */
export class Film {
  readonly width: number;
  readonly height: number;

  constructor(
    readonly scene: Scene,
    readonly settings: RenderSettings,
    readonly tiles: readonly TileSums[],
    /** The noise that 95 % of the pixels do not exceed, see `judge`; undefined where it was not told. */
    readonly noise?: number,
  ) {
    this.width = settings.width;
    this.height = settings.height;
  }

  get rays(): number {
    return this.tiles.reduce((n, t) => n + t.rays, 0);
  }

  /** Makes planes by calling `fill` for every pixel: `p` counts in its rectangle, `at` in the picture. */
  private planes(
    count: number,
    fill: (tile: TileSums, p: number, at: number, out: Float32Array[]) => void,
    out = Array.from({ length: count }, () => new Float32Array(this.width * this.height)),
  ): Float32Array<ArrayBuffer>[] {
    this.each((tile, p, at) => fill(tile, p, at, out));
    return out;
  }

  private each(visit: (tile: TileSums, p: number, at: number) => void): void {
    for (const tile of this.tiles) {
      const { x0, x1, y0, y1 } = tile.area;
      let p = 0;
      for (let y = y0; y < y1; y++)
        for (let at = y * this.width + x0; at < y * this.width + x1; at++, p++) visit(tile, p, at);
    }
  }

  /**
   * Scene-linear r, g, b of some parts of the light; all of them, the beauty, by default.
   * @param into planes to write to; only the film's own rectangles are touched
   */
  light(
    parts: readonly LightPart[] = LIGHT_PARTS,
    into?: Float32Array<ArrayBuffer>[],
  ): Float32Array<ArrayBuffer>[] {
    const apart = this.settings.gather.lightParts;
    const numbers = apart ? parts.map((name) => LIGHT[name]) : [0];
    const stride = apart ? 3 * LIGHT_PARTS.length : 3;
    const fill = (tile: TileSums, p: number, at: number, out: Float32Array[]) => {
      const n = tile.samples[p]!;
      if (n === 0) return;
      for (let k = 0; k < 3; k++) {
        let sum = 0;
        for (const part of numbers) sum += tile.light[stride * p + 3 * part + k]!;
        out[k]![at] = sum / n;
      }
    };
    return this.planes(3, fill, into);
  }

  /** Scene-linear r, g, b of what one source gives, see `sourcesOf`. */
  lamp(source: number): Float32Array[] {
    return this.planes(3, (tile, p, at, out) => {
      const n = tile.samples[p]!;
      const from = (tile.lamps.length / tile.samples.length) * p + 3 * source;
      if (n > 0) for (let k = 0; k < 3; k++) out[k]![at] = tile.lamps[from + k]! / n;
    });
  }

  /** Share of each pixel's samples that saw something. */
  alpha(): Float32Array {
    return this.planes(1, (tile, p, at, out) => {
      if (tile.samples[p]! > 0) out[0]![at] = tile.seen[p]! / tile.samples[p]!;
    })[0]!;
  }

  /** Samples taken of each pixel. */
  samples(): Float32Array {
    return this.planes(1, (tile, p, at, out) => (out[0]![at] = tile.samples[p]!))[0]!;
  }

  /**
   * Ranks of IDs by coverage.
   * @param idOfPart for each part of the scene its ID, 0 for none
   * @param layer number of a through-glass layer; the direct view by default
   */
  ranks(idOfPart: Uint32Array, ranks: number, layer?: number): RankPlanes {
    const planes: RankPlanes = {
      width: this.width,
      height: this.height,
      ids: Array.from({ length: ranks }, () => new Uint32Array(this.width * this.height)),
      coverage: Array.from({ length: ranks }, () => new Float32Array(this.width * this.height)),
    };
    const sorter = new RankSorter();
    this.each((tile, p, at) => {
      if (tile.samples[p] === 0) return;
      const from = layer === undefined ? tile.ids : tile.through[layer]!;
      sorter.write(from, p, tile.samples[p]!, idOfPart, at, planes.ids, planes.coverage);
    });
    return planes;
  }

  private eachSighting(
    visit: (part: number, coverage: number, at: number) => void,
    from: (tile: TileSums) => Sightings = (tile) => tile.ids,
  ): void {
    this.each((tile, p, at) => {
      const s = from(tile);
      const n = tile.samples[p]!;
      if (n > 0) for (let e = s.head[p]!; e >= 0; e = s.next[e]!) visit(s.thing[e]!, s.weight[e]! / n, at);
    });
  }

  /** Coverage of sets of parts. `sets`: for each part the numbers of the planes it belongs to. */
  coverage(sets: readonly (readonly number[])[], count: number): Float32Array[] {
    const out = Array.from({ length: count }, () => new Float32Array(this.width * this.height));
    this.eachSighting((part, c, at) => {
      for (const plane of sets[part]!) out[plane]![at]! += c;
    });
    // Sums of shares may pass one by rounding.
    for (const plane of out) for (let i = 0; i < plane.length; i++) if (plane[i]! > 1) plane[i] = 1;
    return out;
  }

  /** For each pixel the value of the part that covers most of it, ties to the smaller value; 0 where nothing is. */
  dominant(valueOfPart: Float32Array): Float32Array {
    const best = new Float32Array(this.width * this.height);
    const out = new Float32Array(this.width * this.height);
    const sums = new Map<number, number>();
    this.each((tile, p, at) => {
      const n = tile.samples[p]!;
      const s = tile.ids;
      if (n === 0 || s.head[p]! < 0) return;
      sums.clear();
      let seen = 0;
      for (let e = s.head[p]!; e >= 0; e = s.next[e]!) {
        const value = valueOfPart[s.thing[e]!]!;
        seen += s.weight[e]!;
        sums.set(value, (sums.get(value) ?? 0) + s.weight[e]!);
      }
      sums.set(0, (sums.get(0) ?? 0) + n - seen);
      for (const [value, weight] of sums)
        if (weight > best[at]! || (weight === best[at] && value < out[at]!)) {
          best[at] = weight;
          out[at] = value;
        }
    });
    return out;
  }

  /**
   * Mixes a colour for each part by coverage.
   * @param into as for {@link light}, added to what is there
   * @param layer number of a through-glass layer; the direct view by default
   */
  mix(
    colourOfPart: readonly (readonly [number, number, number])[],
    into?: Float32Array[],
    layer?: number,
  ): Float32Array[] {
    const out = into ?? Array.from({ length: 3 }, () => new Float32Array(this.width * this.height));
    this.eachSighting(
      (part, c, at) => {
        for (let k = 0; k < 3; k++) out[k]![at]! += c * colourOfPart[part]![k]!;
      },
      layer === undefined ? undefined : (tile) => tile.through[layer]!,
    );
    return out;
  }

  /** Averages of surface data over the samples that saw something, `count` planes from `SURFACE.x` on. */
  surface(first: number, count: number): Float32Array[] {
    return this.planes(count, (tile, p, at, out) => {
      const n = tile.seen[p]!;
      if (n > 0)
        for (let k = 0; k < count; k++) out[k]![at] = tile.surface[SURFACE.count * p + first + k]! / n;
    });
  }

  /** Share of the direct light that other things keep away: 0 in the open, 1 in full shadow. */
  shadow(): Float32Array {
    return this.planes(1, (tile, p, at, out) => {
      const [full, lit] = [tile.shadow[2 * p]!, tile.shadow[2 * p + 1]!];
      if (full > 0) out[0]![at] = Math.min(1, Math.max(0, 1 - lit / full));
    })[0]!;
  }

  /** 1 in the open, 0 where something is near all around; 1 where nothing is seen. */
  occlusion(): Float32Array {
    return this.planes(1, (tile, p, at, out) => {
      const n = tile.seen[p]!;
      out[0]![at] = n > 0 ? tile.occlusion[p]! / n : 1;
    })[0]!;
  }

  /** What a catcher adds: shadow (0 to 1, times its coverage) and reflection (r, g, b). */
  catcher(): { shadow: Float32Array; reflection: Float32Array[] } {
    const planes = this.planes(4, (tile, p, at, out) => {
      const n = tile.samples[p]!;
      if (n === 0 || tile.catcher.length === 0) return;
      const from = CATCHER.count * p;
      const full = tile.catcher[from + CATCHER.unshadowed]!;
      if (full > 0) {
        const dark = Math.min(1, Math.max(0, 1 - tile.catcher[from + CATCHER.lit]! / full));
        out[0]![at] = (dark * tile.catcher[from]!) / n;
      }
      for (let k = 0; k < 3; k++) out[1 + k]![at] = tile.catcher[from + CATCHER.reflection + k]! / n;
    });
    return { shadow: planes[0]!, reflection: planes.slice(1) };
  }
}
