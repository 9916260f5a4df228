import type { Aperture } from '../planes/aperture.ts';
import type { Area } from '../planes/area.ts';
import {
  cellsAround,
  circleTable,
  lightOfSums,
  type Focus,
  type Lens,
  type LensWindow,
} from '../planes/lens.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import { BYTES } from './generated/lens.ts';
import { aligned, loadKernel, memoryUpTo, PAD, type KernelExports } from './load.ts';

/** Numbers that the kernel's functions take, in this order; core/kernels/lens.ts says what they are. */
interface Exports extends KernelExports {
  place(...numbers: number[]): void;
  sort(...numbers: number[]): void;
  behind(...numbers: number[]): number;
  layInFocus(...numbers: number[]): void;
  spread(...numbers: number[]): void;
  total(sums: number, across: number, down: number): void;
  lay(...numbers: number[]): void;
  finish(...numbers: number[]): void;
}

/** Bytes of a pixel or cell of light: four numbers of 64 bits. */
const PIXEL = 32;
/** Layers that there may be. */
const LAYERS = 256;

/** Where everything of a window lies in the kernel's memory. */
interface Layout {
  plane: number;
  src: number;
  depth: number;
  table: number;
  reaches: number;
  order: number;
  next: number;
  beyond: number;
  starts: number;
  boxes: number;
  pixels: number;
  parts: number;
  spans: number;
  cells: number;
  beside: number;
  laid: number;
  kept: number;
  map: number;
  out: number;
  sums: number;
}

/** A lens in WebAssembly, like `PlainLens` to the last bit. */
export class KernelLens implements Lens {
  private readonly kernel = loadKernel<Exports>(BYTES);
  private window!: LensWindow;
  private focus!: Focus;
  private at!: Layout;
  private sizes = new Uint32Array(0);
  /** Where the pixels of each layer begin in the lists. */
  private begins = new Uint32Array(0);

  begin(window: LensWindow, focus: Focus): void {
    this.window = window;
    this.focus = focus;
    const { kernel } = this;
    const { planes, weights, depth, margin } = window;
    const { width, height } = planes;
    const count = width * height;
    const at = (this.at = this.layOut());
    const table = circleTable(focus.apertures);
    const circles = table.at.length;
    const { buffer } = kernel.memory;
    [planes.r, planes.g, planes.b, weights].forEach((p, i) =>
      new Float32Array(buffer, at.src + i * at.plane, count).set(p.subarray(0, count)),
    );
    new Float32Array(buffer, at.depth, count).set(depth.subarray(0, count));
    new Uint8Array(buffer, at.table, 2 * circles).set(table.at);
    new Uint8Array(buffer, at.table + circles, circles).set(table.next);
    focus.apertures.forEach(({ reach }, i) => (new Int32Array(buffer, at.reaches, LAYERS)[i] = reach));
    const starts = new Uint32Array(buffer, at.starts, LAYERS).fill(0);
    kernel.place(
      ...[at.src, at.plane, at.depth, width, height, margin, focus.at, focus.size, focus.most],
      ...[at.table, circles, at.reaches, focus.apertures.length - 1, at.order, at.next, at.beyond, at.starts],
    );
    this.sizes = starts.slice(0, 2 * focus.apertures.length - 1);
    let sum = 0;
    this.begins = this.sizes.map((size) => (sum += size) - size);
    starts.set(this.begins);
    const turned = [width, height, -1, -1];
    new Int32Array(buffer, at.boxes, 4 * LAYERS).forEach((_, i, all) => (all[i] = turned[i % 4]!));
    const { order, next, beyond, boxes, pixels, parts } = at;
    kernel.sort(width, height, order, next, beyond, at.starts, boxes, pixels, parts);
  }

  /** Gives everything its place; what is added to is empty. */
  private layOut(): Layout {
    const { planes, area } = this.window;
    const count = planes.width * planes.height;
    const [across, down] = [area.x1 - area.x0, area.y1 - area.y0];
    let free = aligned(this.kernel.heap());
    const room = (bytes: number) => {
      const from = free;
      free = aligned(free + bytes);
      return from;
    };
    const plane = aligned(4 * count);
    const at: Layout = {
      plane,
      src: room(4 * plane),
      depth: room(plane),
      table: room(2 * circleTable(this.focus.apertures).at.length),
      reaches: room(4 * LAYERS),
      order: room(count),
      next: room(count),
      beyond: room(count),
      starts: room(4 * LAYERS),
      boxes: room(16 * LAYERS),
      // A pixel lies in two layers at most.
      pixels: room(8 * count),
      parts: room(2 * count),
      spans: room(8 * LAYERS),
      cells: room(PIXEL * (planes.width / 2 + 2) * (planes.height / 2 + 2)),
      beside: room(PIXEL * planes.width),
      laid: room(PIXEL * across * down),
      kept: room(across * down),
      map: room(across * down),
      out: room(12 * across * down),
      sums: room(PIXEL * (across + 4) * (down + 4)),
    };
    const memory = memoryUpTo(this.kernel, free + PAD);
    memory.fill(0, at.cells, at.map);
    return at;
  }

  private view(at: number, bytes: number): Uint8Array {
    return new Uint8Array(this.kernel.memory.buffer, at, bytes);
  }
  counts(): Uint32Array {
    return this.sizes;
  }
  order(): Uint8Array {
    return this.view(this.at.order, this.window.planes.width * this.window.planes.height);
  }
  laid(): Float64Array {
    const { x0, y0, x1, y1 } = this.window.area;
    return new Float64Array(this.kernel.memory.buffer, this.at.laid, 4 * (x1 - x0) * (y1 - y0));
  }

  lay(layer: number): void {
    const { at, window } = this;
    const { planes, margin, area } = window;
    const aperture = this.apertureOf(layer);
    const [count, begin] = [this.sizes[layer]!, this.begins[layer]!];
    if (aperture.circle > 0) this.layList(aperture, begin, count, this.reachedBy(layer, aperture.reach));
    else
      this.kernel.layInFocus(
        ...[at.src, at.plane, planes.width, margin, at.pixels + 4 * begin, at.parts + begin, count],
        ...[at.laid, area.x1 - area.x0, area.y1 - area.y0, at.kept],
      );
  }

  layBehind(layer: number, within: Area, map: Uint8Array): void {
    const { at, window, kernel } = this;
    const { planes, margin, area } = window;
    const aperture = this.apertureOf(layer);
    this.view(at.map, map.length).set(map);
    const place = (v: number, from: number) => v - from + margin;
    const count = kernel.behind(
      ...[at.order, planes.width],
      ...[place(within.x0, area.x0) - aperture.reach, place(within.y0, area.y0) - aperture.reach],
      ...[place(within.x1, area.x0) + aperture.reach, place(within.y1, area.y0) + aperture.reach],
      ...[layer, at.pixels, at.parts],
    );
    this.layList(aperture, 0, count, within, layer);
  }

  finish(out: RgbPlanes): void {
    const { at, window, kernel } = this;
    const { planes, margin, area } = window;
    const [across, down] = [area.x1 - area.x0, area.y1 - area.y0];
    const { order, laid, kept } = at;
    kernel.finish(...[at.src, at.plane, planes.width, margin, order, laid, across, down, kept, at.out]);
    const size = across * down;
    [out.r, out.g, out.b].forEach((p, i) =>
      p.set(new Float32Array(kernel.memory.buffer, at.out + 4 * i * size, size)),
    );
  }

  /** The part of the area that a layer's light may reach. */
  private reachedBy(layer: number, reach: number): Area {
    const { area, margin } = this.window;
    const box = new Int32Array(this.kernel.memory.buffer, this.at.boxes + 16 * layer, 4);
    const [left, top] = [area.x0 - margin, area.y0 - margin];
    return {
      x0: Math.max(area.x0, left + box[0]! - reach),
      y0: Math.max(area.y0, top + box[1]! - reach),
      x1: Math.min(area.x1, left + box[2]! + reach + 1),
      y1: Math.min(area.y1, top + box[3]! + reach + 1),
    };
  }

  private apertureOf(layer: number): Aperture {
    const { apertures } = this.focus;
    return apertures[Math.abs(layer - (apertures.length - 1))]!;
  }

  /** Lays so many pixels of the lists, in a part of the area; only where the map says so, if that is asked for. */
  private layList(aperture: Aperture, begin: number, count: number, within: Area, only = -1): void {
    const { kernel, at, window } = this;
    const { area, margin, planes } = window;
    const cells = cellsAround(within, aperture.cell);
    const [across, down] = [cells.x1 - cells.x0, cells.y1 - cells.y0];
    new Int32Array(kernel.memory.buffer, at.spans, aperture.spans.length).set(aperture.spans);
    this.view(at.sums, PIXEL * across * down).fill(0);
    kernel.spread(
      ...[at.src, at.plane, planes.width, area.x0 - margin, area.y0 - margin],
      ...[at.pixels + 4 * begin, at.parts + begin, count],
      ...[aperture.cell, aperture.top, aperture.spans.length / 2, at.spans, at.cells, at.beside],
      ...[at.sums, cells.x0, cells.y0, across, down],
    );
    kernel.total(at.sums, across, down);
    kernel.lay(
      ...[at.sums, cells.x0, cells.y0, across, aperture.cell, lightOfSums(aperture)],
      ...[at.laid, area.x0, area.y0, area.x1 - area.x0],
      ...[within.x0, within.y0, within.x1, within.y1, at.map, only],
    );
  }
}
