import { apertureAt, PARTS, type Aperture } from './aperture.ts';
import type { Area } from './area.ts';
import { finite } from './finite.ts';
import type { RgbPlanes } from './rgb-planes.ts';

/** Where a lens is sharp, and how far it blurs. */
export interface Focus {
  /** Depth that is sharp, in the units of the depth. */
  at: number;
  /** Radius of what a point infinitely far away becomes, in pixels (thin lens). */
  size: number;
  /** Most that any radius becomes. */
  most: number;
  apertures: readonly Aperture[];
}

/** A window of pixels, what each of them weighs, how far away it is, and the area in its middle that is written. */
export interface LensWindow {
  planes: RgbPlanes;
  weights: Float32Array;
  depth: Float32Array;
  area: Area;
  margin: number;
}

/**
 * Light of a window, put into layers from the front and laid over an area. A layer is what lies equally far out of focus
 * on one side of what is sharp; a pixel between two apertures is shared out to both, so that nothing jumps when its circle
 * grows. Each pixel gives its light, and as much cover as it weighs, evenly to all places of the aperture. What a layer
 * covers hides what comes behind it. Spread light is added up as whole numbers, so that the order, and what else is in the
 * window, cannot change a bit of it: light has steps of 2⁻²² and ends at ±2¹⁷.
 */
export interface Lens {
  /** Begins a window: puts its pixels into layers; nothing lies in the area. */
  begin(window: LensWindow, focus: Focus): void;
  /** How many pixels each layer has whose light reaches the area; the middle layer is in focus. Good until the next call. */
  counts(): Uint32Array;
  /** Lays the pixels of a layer behind what lies there. */
  lay(layer: number): void;
  /** The layer of each pixel of the window; {@link LIGHTLESS} where it gives nothing. Good until the next call. */
  order(): Uint8Array;
  /** Four numbers for each pixel of the area: light times cover, and the cover, 0 to 1. Good until the next call. */
  laid(): Float64Array;
  /**
   * Lays all that lies behind a layer, spread as far as that layer is, in a part of the area where a map of the area has
   * the layer's number.
   */
  layBehind(layer: number, within: Area, map: Uint8Array): void;
  /** Writes the area: light by cover. What is in focus with nothing in front of it, and what gives nothing, stays. */
  finish(out: RgbPlanes): void;
}

/** Layer of a pixel that gives nothing. */
export const LIGHTLESS = 255;
/** Light and weights are whole multiples of one such part. */
const STEPS = 2 ** 22;
/** Most light of a pixel that is spread. */
const MOST_LIGHT = 2 ** 17;
/** Circles that are told apart when apertures are looked up, per pixel of radius. */
const FINE = 32;

const { abs, floor, max, min } = Math;

/** Which aperture a circle has and how many parts go to the next, {@link apertureAt} in steps that are too small to see. */
export interface CircleTable {
  at: Uint8Array;
  next: Uint8Array;
}
const tables = new Map<readonly Aperture[], CircleTable>();
export function circleTable(list: readonly Aperture[]): CircleTable {
  const known = tables.get(list);
  if (known) return known;
  const found = Array.from({ length: floor(list.at(-1)!.circle * FINE) + 1 }, (_, i) =>
    apertureAt(list, i / FINE),
  );
  const table = {
    at: Uint8Array.from(found, (f) => f.at),
    next: Uint8Array.from(found, (f) => f.next),
  };
  tables.set(list, table);
  return table;
}

/** Cells of an aperture's width that light for an area is collected in: one more on every side than the area's own. */
export function cellsAround({ x0, y0, x1, y1 }: Area, cell: number): Area {
  const at = (v: number) => floor(v / cell);
  return { x0: at(x0) - 1, y0: at(y0) - 1, x1: at(x1 - 1) + 2, y1: at(y1 - 1) + 2 };
}

/** What the sums of a layer are multiplied by to be light: cells are softened by weights that are 16 together. */
export const lightOfSums = ({ count, cell }: Aperture): number => 1 / (STEPS * 16 * count * cell ** 2);

/** Pixels of the window, and how many parts of each. */
interface List {
  pixels: number[];
  parts: number[];
}

/** The plain twin of the kernel in core/kernels/lens.ts. */
export class PlainLens implements Lens {
  private window!: LensWindow;
  private focus!: Focus;
  private layers: List[] = [];
  private orders = new Uint8Array(0);
  private result = new Float64Array(0);
  private kept = new Uint8Array(0);

  begin(window: LensWindow, focus: Focus): void {
    this.window = window;
    this.focus = focus;
    const { area, planes, weights, depth, margin } = window;
    const { width, height, r, g, b } = planes;
    const size = (area.x1 - area.x0) * (area.y1 - area.y0);
    this.result = new Float64Array(4 * size);
    this.kept = new Uint8Array(size);
    this.layers = Array.from({ length: 2 * focus.apertures.length - 1 }, () => ({ pixels: [], parts: [] }));
    this.orders = new Uint8Array(width * height).fill(LIGHTLESS);
    const table = circleTable(focus.apertures);
    const sharp = focus.apertures.length - 1;
    for (let i = 0; i < width * height; i++) {
      if (!(weights[i]! > 0) || !finite(r[i]!, g[i]!, b[i]!)) continue;
      const own = Number.isFinite(depth[i]!)
        ? focus.size * (1 - focus.at / max(depth[i]!, 1e-6))
        : focus.size;
      const circle = max(-focus.most, min(focus.most, own));
      const at = table.at[floor(abs(circle) * FINE + 0.5)]!;
      const next = table.next[floor(abs(circle) * FINE + 0.5)]!;
      const side = circle < 0 ? -1 : 1;
      this.orders[i] = sharp + side * at;
      const [x, y] = [i % width, floor(i / width)];
      const away = max(margin - x, x - (width - margin) + 1, margin - y, y - (height - margin) + 1);
      if (away > focus.apertures[next > 0 ? at + 1 : at]!.reach) continue;
      const give = (layer: number, parts: number) => {
        this.layers[layer]!.pixels.push(i);
        this.layers[layer]!.parts.push(parts);
      };
      give(sharp + side * at, PARTS - next);
      if (next > 0) give(sharp + side * (at + 1), next);
    }
  }

  counts(): Uint32Array {
    return Uint32Array.from(this.layers, (l) => l.pixels.length);
  }
  order(): Uint8Array {
    return this.orders;
  }
  laid(): Float64Array {
    return this.result;
  }

  lay(layer: number): void {
    const aperture = this.apertureOf(layer);
    if (aperture.circle === 0) this.layInFocus(this.layers[layer]!);
    else this.layList(aperture, this.layers[layer]!, this.window.area);
  }

  layBehind(layer: number, within: Area, map: Uint8Array): void {
    const { planes, area, margin } = this.window;
    const aperture = this.apertureOf(layer);
    const { reach } = aperture;
    const list: List = { pixels: [], parts: [] };
    for (let y = within.y0 - reach; y < within.y1 + reach; y++)
      for (let x = within.x0 - reach; x < within.x1 + reach; x++) {
        const i = (y - area.y0 + margin) * planes.width + x - area.x0 + margin;
        if (this.orders[i] === LIGHTLESS || this.orders[i]! <= layer) continue;
        list.pixels.push(i);
        list.parts.push(PARTS);
      }
    this.layList(aperture, list, within, { map, is: layer });
  }

  finish(out: RgbPlanes): void {
    const { planes, area, margin } = this.window;
    const across = area.x1 - area.x0;
    for (let to = 0; to < this.kept.length; to++) {
      const pixel = (floor(to / across) + margin) * planes.width + (to % across) + margin;
      const cover = this.result[4 * to + 3]!;
      const own = this.kept[to] === 1 || this.orders[pixel] === LIGHTLESS || !(cover > 0);
      (['r', 'g', 'b'] as const).forEach((k, c) => {
        out[k][to] = own ? planes[k][pixel]! : this.result[4 * to + c]! / cover;
      });
    }
  }

  private apertureOf(layer: number): Aperture {
    const { apertures } = this.focus;
    return apertures[abs(layer - (apertures.length - 1))]!;
  }

  /** Lays what is in focus: each pixel at its own place. Marks those that have nothing in front of them. */
  private layInFocus({ pixels, parts }: List): void {
    const { area, margin, planes, weights } = this.window;
    const [across, down] = [area.x1 - area.x0, area.y1 - area.y0];
    pixels.forEach((pixel, i) => {
      const x = (pixel % planes.width) - margin;
      const y = floor(pixel / planes.width) - margin;
      if (x < 0 || y < 0 || x >= across || y >= down) return;
      const to = y * across + x;
      const before = this.result[4 * to + 3]!;
      if (before === 0 && parts[i] === PARTS) this.kept[to] = 1;
      const seen = min((weights[pixel]! * parts[i]!) / PARTS, 1 - before);
      if (!(seen > 0)) return;
      const light = [planes.r[pixel]!, planes.g[pixel]!, planes.b[pixel]!, 1];
      light.forEach((v, k) => (this.result[4 * to + k]! += v * seen));
    });
  }

  private layList(
    aperture: Aperture,
    list: List,
    within: Area,
    only?: { map: Uint8Array; is: number },
  ): void {
    const cells = cellsAround(within, aperture.cell);
    this.layOver(aperture, this.sums(aperture, list, cells), cells, within, only);
  }

  /** What a pixel gives: whole numbers of steps. */
  private given(pixel: number, parts: number): readonly number[] {
    const { planes, weights } = this.window;
    const weight = (weights[pixel]! * parts * STEPS) / PARTS;
    const whole = floor(weight + 0.5);
    if (whole === 0) return [0, 0, 0, 0];
    const light = (v: number) => floor(max(-MOST_LIGHT, min(MOST_LIGHT, v)) * weight + 0.5);
    return [light(planes.r[pixel]!), light(planes.g[pixel]!), light(planes.b[pixel]!), whole];
  }

  /** Sums of what reaches each cell, four numbers a cell. */
  private sums({ cell, top, spans }: Aperture, { pixels, parts }: List, cells: Area): Float64Array {
    const { planes, area, margin } = this.window;
    const given = new Map<string, { x: number; y: number; light: number[] }>();
    pixels.forEach((pixel, i) => {
      const x = floor((area.x0 - margin + (pixel % planes.width)) / cell);
      const y = floor((area.y0 - margin + floor(pixel / planes.width)) / cell);
      const one = given.get(`${x} ${y}`) ?? { x, y, light: [0, 0, 0, 0] };
      given.set(`${x} ${y}`, one);
      this.given(pixel, parts[i]!).forEach((v, k) => (one.light[k]! += v));
    });
    const [across, down] = [cells.x1 - cells.x0, cells.y1 - cells.y0];
    const sums = new Float64Array(4 * across * down);
    for (const { x, y, light } of given.values())
      for (let row = 0; row < spans.length / 2; row++) {
        const to = y + top + row;
        if (to < cells.y0 || to >= cells.y1) continue;
        const first = max(cells.x0, x + spans[2 * row]!);
        const last = min(cells.x1 - 1, x + spans[2 * row + 1]!);
        for (let c = first; c <= last; c++)
          light.forEach((v, k) => (sums[4 * ((to - cells.y0) * across + c - cells.x0) + k]! += v));
      }
    return sums;
  }

  private layOver(
    aperture: Aperture,
    sums: Float64Array,
    cells: Area,
    within: Area,
    only?: { map: Uint8Array; is: number },
  ): void {
    const { area } = this.window;
    const { cell } = aperture;
    const across = cells.x1 - cells.x0;
    const norm = lightOfSums(aperture);
    const at = (x: number, y: number, k: number) => sums[4 * ((y - cells.y0) * across + x - cells.x0) + k]!;
    const beside = (v: number) => floor(v / 2) + (v & 1 ? 1 : -1);
    /** A column of cells, softened down; then columns are, across. Of coarse cells only the nearer neighbour counts. */
    const down = (x: number, y: number, k: number) =>
      cell === 1
        ? at(x, y - 1, k) + 2 * at(x, y, k) + at(x, y + 1, k)
        : 3 * at(x, floor(y / 2), k) + at(x, beside(y), k);
    const soft = (x: number, y: number, k: number) =>
      cell === 1
        ? down(x - 1, y, k) + 2 * down(x, y, k) + down(x + 1, y, k)
        : 3 * down(floor(x / 2), y, k) + down(beside(x), y, k);
    for (let y = within.y0; y < within.y1; y++)
      for (let x = within.x0; x < within.x1; x++) {
        const pixel = (y - area.y0) * (area.x1 - area.x0) + x - area.x0;
        if (only && only.map[pixel] !== only.is) continue;
        const cover = soft(x, y, 3) * norm;
        const seen = min(cover, 1 - this.result[4 * pixel + 3]!);
        if (!(seen > 0)) continue;
        const share = (seen / cover) * norm;
        for (let k = 0; k < 3; k++) this.result[4 * pixel + k]! += soft(x, y, k) * share;
        this.result[4 * pixel + 3]! += seen;
      }
  }
}
