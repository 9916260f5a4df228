import { unpackMixtures, OTHERS, type Mixtures } from '../mixtures/mixture.ts';
import { mixturesOf, type MixtureData } from '../mixtures/kept.ts';
import { finite } from '../planes/finite.ts';
import { held } from '../planes/mixing.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import { TILE, TILE_PIXELS, tilesAcross } from '../planes/tiles.ts';
import type { CleanEdges } from './stack-input.ts';
import type { TilePlanes } from './tile-planes.ts';

const PLANES = ['r', 'g', 'b'] as const;
/** Less of a mask than this beyond its members, or of a pixel beside them, is rounding. */
const LEAST = 0.004;
/** What other changes do to a pixel is done to its parts in proportion, up to so much. */
const MOST_GAIN = 4;

/** Colours that a change's corrections are to be applied to, with what limits go by, and where they are in the picture. */
export interface Colours {
  count: number;
  now: TilePlanes;
  rendered: TilePlanes;
  at: Uint32Array;
}

const newColours = (most: number): Colours => ({
  count: 0,
  now: planesOf(most),
  rendered: planesOf(most),
  at: new Uint32Array(most),
});
const planesOf = (n: number): TilePlanes => ({
  r: new Float32Array(n),
  g: new Float32Array(n),
  b: new Float32Array(n),
});

/** One pixel of a change: how much of its parts, and of what is beside them, the mask takes. */
interface Taken {
  /** Number of the mixed pixel; where its colours begin in the list. */
  pixel: number;
  from: number;
  scale: number;
  beside: number;
  /** Coverage of the members in the pixel. */
  members: number;
}

/** The parts of a tile's mixed pixels in one ID layer on their way through the change list. */
interface Parts {
  data: MixtureData;
  source: Mixtures;
  now: TilePlanes;
}

/**
 * Clean edges: at a pixel that shows several members, a change acts on the colours of its own members, and the parts are
 * mixed again: C' = C + Σ aᵢ(f(Fᵢ) − Fᵢ). So no colour of a neighbour is corrected with them, and corrections that change
 * nothing leave every pixel exactly as it is. Where an edge was refined, the effect is scaled where the mask has become
 * less, and where it has become more the excess acts on what is beside the members, R = (C − Σ aᵢFᵢ) / (1 − Σ aᵢ).
 *
 * Parts are carried: what changes below have done to them is where the next one begins. Corrections of an area end that
 * at the pixels that they write.
 */
export class Carried {
  private readonly parts: Parts[] = [];
  private readonly ended = new Uint8Array(TILE_PIXELS);
  private readonly corner: number;
  private taken: Taken[] = [];

  constructor(
    private readonly source: RgbPlanes,
    private readonly tile: number,
  ) {
    const across = tilesAcross(source.width);
    this.corner = Math.floor(tile / across) * TILE * source.width + (tile % across) * TILE;
  }

  private partsOf({ mixtures }: CleanEdges): Parts | undefined {
    const known = this.parts.find((p) => p.data === mixtures);
    if (known) return known;
    const packed = mixturesOf(mixtures, this.tile);
    if (!packed) return undefined;
    const source = unpackMixtures(packed);
    const now = { r: source.r.slice(), g: source.g.slice(), b: source.b.slice() };
    const parts = { data: mixtures, source, now };
    this.parts.push(parts);
    return parts;
  }

  /** Gets the parts of a layer ready, so that what other changes do is done to them, too. */
  begin(clean: CleanEdges | undefined): void {
    if (clean) this.partsOf(clean);
  }

  get any(): boolean {
    return this.parts.length > 0;
  }

  /** Nothing that lies above is clean where `cover` says, or anywhere in the tile. */
  end(cover: Float32Array | undefined): void {
    if (!cover) this.ended.fill(1);
    else for (let i = 0; i < TILE_PIXELS; i++) if (cover[i]! > 0) this.ended[i] = 1;
  }

  /** Place of a pixel of the tile in the picture. */
  private at(place: number): number {
    return this.corner + (place >> 6) * this.source.width + (place & 63);
  }

  /** The colours that a change is to be applied to; undefined if it mixes plainly everywhere in this tile. */
  collect(clean: CleanEdges, cover: Float32Array, below: TilePlanes): Colours | undefined {
    const parts = this.partsOf(clean);
    this.taken = [];
    if (!parts) return undefined;
    const { source: m, now } = parts;
    const list = newColours(m.parts + m.pixels);
    for (let i = 0; i < m.pixels; i++) {
      const place = m.place[i]!;
      if (!(cover[place]! > 0) || this.ended[place]) continue;
      if (!finite(below.r[place]!, below.g[place]!, below.b[place]!)) continue;
      this.collectPixel(clean, m, now, i, cover[place]!, below, list);
    }
    return list.count ? list : undefined;
  }

  private collectPixel(
    clean: CleanEdges,
    m: Mixtures,
    now: TilePlanes,
    pixel: number,
    cover: number,
    below: TilePlanes,
    list: Colours,
  ): void {
    const place = m.place[pixel]!;
    const at = this.at(place);
    const [first, end] = [m.first[pixel]!, m.first[pixel + 1]!];
    const from = list.count;
    const { now: to, rendered } = list;
    let n = from;
    let members = 0;
    for (let q = first; q < end; q++) {
      if (!isChosen(clean, m.slot[q]!)) continue;
      members += m.coverage[q]!;
      to.r[n] = now.r[q]!;
      to.g[n] = now.g[q]!;
      to.b[n] = now.b[q]!;
      rendered.r[n] = m.r[q]!;
      rendered.g[n] = m.g[q]!;
      rendered.b[n] = m.b[q]!;
      list.at[n++] = at;
    }
    const room = 1 - members;
    const excess = room > LEAST ? cover - members : 0;
    const beside = excess > LEAST * LEAST ? excess : 0;
    if (beside > 0) {
      for (const k of PLANES) {
        let [light, own] = [below[k][place]!, this.source[k][at]!];
        for (let q = first, i = from; q < end; q++) {
          if (!isChosen(clean, m.slot[q]!)) continue;
          light -= m.coverage[q]! * to[k][i]!;
          own -= m.coverage[q]! * rendered[k][i++]!;
        }
        to[k][n] = besideOf(light, room, below[k][place]!);
        rendered[k][n] = besideOf(own, room, this.source[k][at]!);
      }
      list.at[n++] = at;
    }
    list.count = n;
    const scale = members > 0 ? Math.min(1, cover / members) : 0;
    this.taken.push({ pixel, from, scale, beside, members });
  }

  /**
   * Mixes corrected colours into the tile, and carries them.
   * @param list what {@link collect} gave, corrected; `before` the same as it was
   */
  mix(clean: CleanEdges, list: Colours, before: TilePlanes, below: TilePlanes, out: TilePlanes): void {
    const { source: m, now } = this.partsOf(clean)!;
    for (const k of PLANES) {
      const [is, was, parts, under, to] = [list.now[k], before[k], now[k], below[k], out[k]];
      for (const { pixel, from, scale, beside, members } of this.taken) {
        const place = m.place[pixel]!;
        const [first, end] = [m.first[pixel]!, m.first[pixel + 1]!];
        let sum = 0;
        let own = from;
        for (let q = first; q < end; q++) {
          if (!isChosen(clean, m.slot[q]!)) continue;
          const by = scale * (is[own]! - was[own]!);
          sum += m.coverage[q]! * by;
          parts[q]! += by;
          own++;
        }
        if (beside > 0) {
          const by = beside * (is[own]! - was[own]!);
          sum += by;
          for (let q = first; q < end; q++) if (!isChosen(clean, m.slot[q]!)) parts[q]! += by / (1 - members);
        }
        to[place] = held(under[place]! + sum, under[place]!);
      }
    }
  }

  /** Does to the parts of other layers, or of all, what was done to their pixels. */
  follow(clean: CleanEdges | undefined, before: TilePlanes, after: TilePlanes): void {
    for (const { data, source: m, now } of this.parts) {
      if (data === clean?.mixtures) continue;
      for (let i = 0; i < m.pixels; i++) {
        const place = m.place[i]!;
        for (const k of PLANES) {
          const [was, is] = [before[k][place]!, after[k][place]!];
          if (was === is) continue;
          const gain = is / was;
          for (let q = m.first[i]!; q < m.first[i + 1]!; q++)
            now[k][q] = gain >= 0 && gain <= MOST_GAIN ? now[k][q]! * gain : now[k][q]! + is - was;
        }
      }
    }
  }
}

const isChosen = ({ chosen, others }: CleanEdges, slot: number): boolean =>
  slot === OTHERS ? others : chosen[slot] === 1;

/** Light beside the members; estimates may take a little more than there is. */
const besideOf = (light: number, room: number, all: number): number =>
  all >= 0 ? Math.min(all / room, Math.max(0, light / room)) : light / room;
