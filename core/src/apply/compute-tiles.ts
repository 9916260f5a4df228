import type { Correction } from '../corrections/correction.ts';
import { correctionOf } from '../corrections/registry.ts';
import type { Work } from '../crew/work.ts';
import { showTile } from '../display/show.ts';
import { mixPlanes } from '../kernels/mix.ts';
import { tileKernel } from '../kernels/tile.ts';
import { mixturesOf } from '../mixtures/kept.ts';
import type { Area } from '../planes/area.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import { tileOf } from '../planes/tile-store.ts';
import { TILE, TILE_PIXELS, tileBounds, tilesAcross } from '../planes/tiles.ts';
import { mixed, mixPlain } from '../planes/mixing.ts';
import { Carried, type Colours } from './carried.ts';
import { halveShown } from './picture-tile.ts';
import type { StackInput, StackLayer, StepFailure } from './stack-input.ts';
import { finite } from '../planes/finite.ts';
import { applyPixelStep, sharesOf, stepsOf, type Mix, type Step } from './steps.ts';
import { throughMatrix, type Matrix } from '../colour/matrix.ts';
import { cropped, grown, newPlanes, pixelNumbers, Scratch } from './windows.ts';
import {
  loadTile,
  newTilePlanes,
  packTile,
  storeTile,
  unpackTile,
  viewTile,
  type TilePlanes,
} from './tile-planes.ts';

const PLANES = ['r', 'g', 'b'] as const;

/** How tiles are computed; tests hold the kernel against plain code. */
export interface ComputeOptions {
  plain?: boolean;
  find?: (kind: string) => Correction | undefined;
}

/**
 * Computes tiles of a picture from its change list. A tile begins as the source, or as what is kept below a layer, and
 * goes through every layer that touches it. Pixel corrections of a change go through the kernel in one call where each
 * of them has a step in it; area corrections pull a window from below. What a mask does not cover is never written.
 */
export class TileComputer {
  readonly failures: StepFailure[] = [];
  private readonly kernel = tileKernel();
  private readonly tilesX: number;
  private readonly steps: Step[][];
  private readonly mix: Mix;
  /** Memory of windows and of what covers them, by layer: made anew for every tile, most time would go into that. */
  private readonly windows: Scratch[];
  private readonly covers: Scratch[];

  constructor(
    private readonly input: StackInput,
    options: ComputeOptions = {},
  ) {
    this.tilesX = tilesAcross(input.source.width);
    this.mix = options.plain ? mixPlain : mixPlanes;
    this.windows = input.layers.map(() => new Scratch());
    this.covers = input.layers.map(() => new Scratch());
    const find = options.find ?? correctionOf;
    this.steps = input.layers.map(({ steps }) => stepsOf(steps, find, options.plain === true, input.source));
  }

  /** Computes the tile of a piece of the input into the result, and into bytes where they are wanted. */
  piece(piece: number): void {
    const { input, kernel } = this;
    const tile = input.tiles[piece]!;
    this.compute(input.layers.length, tile, kernel);
    storeTile(input.result, tile, kernel);
    if (!input.shown) return;
    showTile(kernel, input.shown.display, input.source.toScreen);
    const { bytes, halvings } = input.shown;
    bytes.set(halveShown(tile, input.source, halvings), tile * 4 * TILE_PIXELS);
    input.shown.ready[piece] = 1;
  }

  /** A tile as it is after the first `count` layers. `out` may be the kernel's own planes. */
  private compute(count: number, tile: number, out: TilePlanes): void {
    const { layers, source } = this.input;
    const carries = this.carries(count, tile);
    let from = count;
    for (; from > 0; from--) {
      const layer = layers[from - 1]!;
      if (layer.below && layer.writes[tile] && layer.below.valid[tile])
        if (!carries || this.nothingToCarry(from - 1, tile)) break;
    }
    if (from > 0) unpackTile(tileOf(layers[from - 1]!.below!.data, tile)!, out);
    else loadTile(source, tile, out);
    const carried = carries ? new Carried(source, tile) : undefined;
    if (carried) for (const { clean } of layers.slice(0, count)) carried.begin(clean);
    for (let i = 0; i < count; i++) {
      const layer = layers[i]!;
      if (!layer.writes[tile]) continue;
      if (i < from - 1) {
        if (carried) this.endedBy(i, tile, carried);
        continue;
      }
      keepBelow(layer, tile, out);
      if (carried?.any) this.applyCarried(i, tile, out, carried);
      else this.apply(i, tile, out);
    }
  }

  /** Whether a change among the first `count` has clean edges in this tile. */
  private carries(count: number, tile: number): boolean {
    return this.input.layers
      .slice(0, count)
      .some(({ clean, writes }) => clean && writes[tile] && mixturesOf(clean.mixtures, tile));
  }

  /** Whether the first `count` layers leave nothing in this tile that has to be carried further. */
  private nothingToCarry(count: number, tile: number): boolean {
    return this.input.layers.slice(0, count).every((l, i) => !l.writes[tile] || this.isArea(i));
  }

  private isArea(at: number): boolean {
    return this.steps[at]!.some((s) => s.correction.works === 'area');
  }

  /** Corrections of an area end clean edges above them, where they write. */
  private endedBy(at: number, tile: number, carried: Carried): void {
    if (!this.isArea(at)) return;
    const { source, layers } = this.input;
    const beyond = this.steps[at]!.some(
      ({ correction: c, values }) => c.works === 'area' && (c.spread?.(values, source) ?? 0) > 0,
    );
    const cover = tileOf(layers[at]!.mask, tile);
    if (beyond || cover) carried.end(beyond ? undefined : cover);
  }

  /** Applies a layer to a tile in place, with clean edges where it has them. */
  private applyCarried(at: number, tile: number, out: TilePlanes, carried: Carried): void {
    const layer = this.input.layers[at]!;
    const { clean } = layer;
    const before = newTilePlanes();
    copyPlanes(out, before);
    const cover = tileOf(layer.mask, tile);
    const list = clean && cover && !this.isArea(at) ? carried.collect(clean, cover, before) : undefined;
    const was = list && { r: list.now.r.slice(), g: list.now.g.slice(), b: list.now.b.slice() };
    const done = list && this.correct(at, list);
    if (list) copyPlanes(before, out);
    this.apply(at, tile, out);
    if (list && was && done) carried.mix(clean!, list, was, before, out);
    this.endedBy(at, tile, carried);
    carried.follow(clean, before, out);
  }

  /** Applies a layer's corrections to a list of colours at full strength. False if one of them cannot be computed. */
  private correct(at: number, { count, now, rendered, at: places }: Colours): boolean {
    const { source, passes } = this.input;
    const layer = this.input.layers[at]!;
    const steps = this.steps[at]!;
    const { kernel } = this;
    const part = (planes: TilePlanes, from: number, to: number): TilePlanes => ({
      r: planes.r.subarray(from, to),
      g: planes.g.subarray(from, to),
      b: planes.b.subarray(from, to),
    });
    if (steps.every((s) => s.kernel)) {
      for (let from = 0; from < count; from += TILE_PIXELS) {
        const end = Math.min(count, from + TILE_PIXELS);
        copyPlanes(part(now, from, end), kernel);
        copyPlanes(part(rendered, from, end), kernel.rendered);
        this.judgedAsRec709();
        kernel.cover.fill(1, 0, end - from);
        kernel.cover.fill(0, end - from);
        kernel.change(steps.flatMap((s) => s.kernel!));
        copyPlanes(part(kernel, 0, end - from), part(now, from, end));
      }
      return true;
    }
    const numbers = Uint32Array.from({ length: count }, (_, i) => i);
    const limits = {
      at: () => numbers,
      source: { ...rendered, width: count, height: 1, toScreen: source.toScreen },
    };
    for (const step of steps)
      try {
        applyPixelStep(step, now, count, () => places, source, passes, this.mix, limits);
      } catch (error) {
        this.fail(layer, step, error);
        return false;
      }
    return true;
  }

  /** Limits in the kernel know only Rec. 709. */
  private judgedAsRec709(): void {
    const { toScreen } = this.input.source;
    if (toScreen) throughMatrix(this.kernel.rendered, TILE_PIXELS, toScreen as Matrix);
  }

  private fail(layer: StackLayer, { correction }: Step, error: unknown): void {
    const message = error instanceof Error ? error.message : String(error);
    const { kind } = correction;
    if (!this.failures.some((f) => f.changeId === layer.changeId && f.kind === kind))
      this.failures.push({ changeId: layer.changeId, kind, message });
  }

  /** Applies a layer to a tile in place. */
  private apply(at: number, tile: number, out: TilePlanes): void {
    const layer = this.input.layers[at]!;
    const steps = this.steps[at]!;
    const cover = tileOf(layer.mask, tile);
    if (steps.some((s) => s.correction.works === 'area')) this.applyArea(at, tile, out);
    else if (!cover) return;
    else if (steps.every((s) => s.kernel)) {
      const { kernel } = this;
      if (out !== kernel) copyPlanes(out, kernel);
      kernel.cover.set(cover);
      if (steps.some((s) => s.limit)) {
        loadTile(this.input.source, tile, kernel.rendered);
        this.judgedAsRec709();
      }
      kernel.change(steps.flatMap((s) => s.kernel!));
      if (out !== kernel) copyPlanes(kernel, out);
    } else this.applyPlain(layer, steps, tile, cover, out);
  }

  private applyPlain(
    layer: StackLayer,
    steps: readonly Step[],
    tile: number,
    cover: Float32Array,
    out: TilePlanes,
  ): void {
    const { source, passes } = this.input;
    const { width } = source;
    const corner = Math.floor(tile / this.tilesX) * TILE * width + (tile % this.tilesX) * TILE;
    const run = newTilePlanes();
    const at = new Uint32Array(TILE_PIXELS);
    const place = new Uint16Array(TILE_PIXELS);
    let n = 0;
    for (let i = 0; i < TILE_PIXELS; i++) {
      // What is no finite colour cannot be corrected.
      if (!(cover[i]! > 0) || !finite(out.r[i]!, out.g[i]!, out.b[i]!)) continue;
      place[n] = i;
      at[n] = corner + (i >> 6) * width + (i & 63);
      run.r[n] = out.r[i]!;
      run.g[n] = out.g[i]!;
      run.b[n] = out.b[i]!;
      n++;
    }
    for (const step of steps)
      try {
        applyPixelStep(step, run, n, () => at, source, passes, this.mix);
      } catch (error) {
        this.fail(layer, step, error);
        return;
      }
    for (const k of PLANES) {
      const [from, to] = [run[k], out[k]];
      for (let i = 0; i < n; i++) {
        const p = place[i]!;
        to[p] = mixed(to[p]!, from[i]!, cover[p]!);
      }
    }
  }

  /**
   * A change with area corrections, on a window that is as much larger as they reach together. Steps that stay inside
   * the mask are computed at full strength and blended by coverage at the end, or before one that writes beyond the
   * mask: such a one limits itself, and works on what there is then.
   */
  private applyArea(at: number, tile: number, out: TilePlanes): void {
    const { source, passes } = this.input;
    const layer = this.input.layers[at]!;
    const steps = this.steps[at]!;
    const reachOf = ({ correction, values }: Step) =>
      correction.works === 'area' ? Math.ceil(correction.reach(values, source)) : 0;
    const spreads = ({ correction, values }: Step) =>
      correction.works === 'area' && (correction.spread?.(values, source) ?? 0) > 0;
    let margin = steps.reduce((sum, s) => sum + reachOf(s), 0);
    const area = tileBounds(tile, this.tilesX, source.width, source.height);
    /** What there is, and what is still to be blended into it. */
    let base = this.window(at, area, margin);
    let full: RgbPlanes | undefined;
    const join = () => {
      if (full) {
        this.mix(base, full, base.r.length, 1, this.coverage(at, area, margin));
        base = full;
      }
      full = undefined;
    };
    for (const step of steps)
      try {
        const { correction, values, amount } = step;
        const numbers = () => pixelNumbers(area, margin, source);
        if (correction.works === 'pixel') {
          full ??= cropped(base, 0);
          applyPixelStep(step, full, full.r.length, numbers, source, passes, this.mix);
          continue;
        }
        const beyond = spreads(step);
        if (beyond) join();
        const planes = full ?? base;
        const coverage = this.coverage(at, area, margin);
        // Where it writes beyond the mask, its limit says what it starts from.
        if (beyond && step.limit) {
          const shares = sharesOf(step, coverage.length, { at: numbers, source, passes })!;
          for (let i = 0; i < coverage.length; i++) coverage[i]! *= shares[i]!;
        }
        const less = reachOf(step);
        const next = margin - less;
        const target = newPlanes(area, next);
        const window = { area: grown(area, next), margin: less, planes, coverage, frame: source, passes };
        correction.apply(window, values, target);
        margin = next;
        const count = target.r.length;
        const shares = beyond ? undefined : sharesOf(step, count, { at: numbers, source, passes });
        const inner = cropped(planes, less);
        this.mix(inner, target, count, amount, shares);
        base = beyond ? target : planes === base ? inner : cropped(base, less);
        full = beyond ? undefined : target;
      } catch (error) {
        this.fail(layer, step, error);
        return;
      }
    join();
    const across = area.x1 - area.x0;
    for (const k of PLANES)
      for (let y = 0; y < area.y1 - area.y0; y++)
        out[k].set(base[k].subarray(y * across, (y + 1) * across), y * TILE);
  }

  /** Colours below a layer in an area and a margin around it; at the picture's border its last pixels repeat. */
  private window(at: number, area: Area, margin: number): RgbPlanes {
    const planes = newPlanes(area, margin, this.windows[at]);
    const tiles = new Map<number, readonly Float32Array[]>();
    this.fillWindow(grown(area, margin), [planes.r, planes.g, planes.b], (t) => {
      let tile = tiles.get(t);
      if (!tile) {
        const { r, g, b } = this.tileBelow(at, t);
        tiles.set(t, (tile = [r, g, b]));
      }
      return tile;
    });
    return planes;
  }

  /**
   * Fills planes of a window from tiles; beyond the picture's border its last pixels repeat. Where there is no tile the
   * planes stay as they are.
   */
  private fillWindow(
    window: Area,
    planes: readonly Float32Array[],
    tileAt: (tile: number) => readonly Float32Array[] | undefined,
  ): void {
    const { width, height } = this.input.source;
    const across = window.x1 - window.x0;
    const [first, end] = [Math.max(0, window.x0), Math.min(width, window.x1)];
    for (let y = window.y0; y < window.y1; y++) {
      const py = Math.min(height - 1, Math.max(0, y));
      const row = (y - window.y0) * across - window.x0;
      for (let x = first; x < end;) {
        const tile = tileAt(Math.floor(py / TILE) * this.tilesX + Math.floor(x / TILE));
        const stop = Math.min(end, (Math.floor(x / TILE) + 1) * TILE);
        const from = (py % TILE) * TILE + (x % TILE);
        if (tile) planes.forEach((p, k) => p.set(tile[k]!.subarray(from, from + stop - x), row + x));
        x = stop;
      }
      for (const p of planes) {
        p.fill(p[row + first]!, row + window.x0, row + first);
        p.fill(p[row + end - 1]!, row + end, row + window.x1);
      }
    }
  }

  /** A tile as it is below a layer, kept if that is wanted; to be read only. */
  private tileBelow(at: number, tile: number): TilePlanes {
    const layer = this.input.layers[at]!;
    const { below } = layer;
    if (below?.valid[tile]) return viewTile(tileOf(below.data, tile)!);
    const out = newTilePlanes();
    this.compute(at, tile, out);
    keepBelow(layer, tile, out);
    return out;
  }

  /**
   * What covers a window; good until the next is asked for of the same layer. At the picture's border it goes on like the
   * colours: what the frame cuts off has no edge there.
   */
  private coverage(at: number, area: Area, margin: number): Float32Array {
    const { mask } = this.input.layers[at]!;
    const window = grown(area, margin);
    const [out] = this.covers[at]!.take(1, (window.x1 - window.x0) * (window.y1 - window.y0));
    out!.fill(0);
    this.fillWindow(window, [out!], (t) => {
      const tile = tileOf(mask, t);
      return tile && [tile];
    });
    return out!;
  }
}

/** Keeps what lies below a layer, where it is wanted and not there yet. */
function keepBelow({ below }: StackLayer, tile: number, planes: TilePlanes): void {
  const kept = below && !below.valid[tile] ? tileOf(below.data, tile) : undefined;
  if (!kept) return;
  packTile(planes, kept);
  below!.valid[tile] = 1;
}

function copyPlanes(from: TilePlanes, out: TilePlanes): void {
  out.r.set(from.r);
  out.g.set(from.g);
  out.b.set(from.b);
}

/** Tiles of the corrected picture as work that threads can share; each piece tells what could not be done. */
export const computeTiles: Work<StackInput, StepFailure[]> = {
  kind: 'tiles',
  pieces: ({ tiles }) => tiles.length,
  begin(input) {
    const computer = new TileComputer(input);
    return (piece) => {
      computer.piece(piece);
      return computer.failures.splice(0);
    };
  },
};
