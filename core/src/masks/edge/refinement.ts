import { amountOf } from '../../fields/amount.ts';
import type { FieldValue } from '../../fields/field.ts';
import { TILE, TILE_PIXELS, tileBounds } from '../../planes/tiles.ts';
import type { TileMask } from '../tile-mask.ts';
import type { EdgeStep, MaskWindow } from './edge-step.ts';

/**
 * One edge step on a mask, tile by tile. Most tiles of a mask lie far from any edge, where coverage is the same all
 * around: what a step makes of that is found once.
 */
export class Refinement {
  private readonly amount: number;
  private readonly flat = new Map<number, number>();
  /** What all of a tile of the input is covered by; undefined where that differs. */
  private readonly levels: (number | undefined)[] = [];

  constructor(
    private readonly step: EdgeStep,
    private readonly values: Record<string, FieldValue>,
    /** Pixels that the step reaches, whole. */
    private readonly reach: number,
    private readonly input: TileMask,
  ) {
    this.amount = amountOf(values);
  }

  /** What becomes of a tile; undefined if nothing is covered. */
  tile(tile: number): Float32Array | undefined {
    const { step, values, reach, input } = this;
    const area = tileBounds(tile, input.tilesX, input.size.width, input.size.height);
    const level = this.levelAround(area.x0, area.y0);
    const [across, down] = [area.x1 - area.x0, area.y1 - area.y0];
    if (level !== undefined) {
      const becomes = level === 0 ? this.amended(0, step.ofNothing?.(values) ?? 0) : this.ofFlat(level);
      return becomes > 0 ? spread(new Float32Array(across * down).fill(becomes), across) : undefined;
    }
    const window = { area, margin: reach, coverage: this.around(area) };
    const out = new Float32Array(across * down);
    step.apply(window, values, out);
    const { amount } = this;
    for (let y = 0, to = 0; amount < 1 && y < down; y++)
      for (let x = 0, from = (y + reach) * (across + 2 * reach) + reach; x < across; x++, from++, to++)
        out[to] = window.coverage[from]! * (1 - amount) + out[to]! * amount;
    return spread(out, across);
  }

  private amended(before: number, after: number): number {
    const { amount } = this;
    return amount < 1 ? before * (1 - amount) + after * amount : after;
  }

  /** What the step makes of one pixel among its like. */
  private ofFlat(level: number): number {
    let becomes = this.flat.get(level);
    if (becomes === undefined) {
      const side = 1 + 2 * this.reach;
      const window: MaskWindow = {
        area: { x0: 0, y0: 0, x1: 1, y1: 1 },
        margin: this.reach,
        coverage: new Float32Array(side * side).fill(level),
      };
      const out = new Float32Array(1);
      this.step.apply(window, this.values, out);
      this.flat.set(level, (becomes = Math.fround(this.amended(level, out[0]!))));
    }
    return becomes;
  }

  /** Coverage that is the same in a tile and as far around it as the step reaches. */
  private levelAround(x: number, y: number): number | undefined {
    const { reach, input } = this;
    const clamp = (v: number, count: number) => Math.min(count - 1, Math.max(0, Math.floor(v / TILE)));
    const last = clamp(x + TILE - 1 + reach, input.tilesX);
    const lowest = clamp(y + TILE - 1 + reach, input.tilesY);
    const level = this.levelOf(clamp(y, input.tilesY) * input.tilesX + clamp(x, input.tilesX));
    for (let v = clamp(y - reach, input.tilesY); level !== undefined && v <= lowest; v++)
      for (let u = clamp(x - reach, input.tilesX); u <= last; u++)
        if (this.levelOf(v * input.tilesX + u) !== level) return undefined;
    return level;
  }

  private levelOf(tile: number): number | undefined {
    if (tile in this.levels) return this.levels[tile];
    const { input } = this;
    const part = input.tile(tile);
    const { x0, x1, y0, y1 } = tileBounds(tile, input.tilesX, input.size.width, input.size.height);
    const level = part ? part[0]! : 0;
    let same = true;
    for (let y = 0; part && same && y < y1 - y0; y++)
      for (let i = y * TILE; same && i < y * TILE + x1 - x0; i++) same = part[i] === level;
    return (this.levels[tile] = same ? level : undefined);
  }

  /** The input in an area and around it; at the picture's border its last pixels repeat. */
  private around(area: MaskWindow['area']): Float32Array {
    const { reach: margin, input } = this;
    const { width, height } = input.size;
    const across = area.x1 - area.x0 + 2 * margin;
    const down = area.y1 - area.y0 + 2 * margin;
    const coverage = new Float32Array(across * down);
    const [first, last] = [Math.max(0, area.x0 - margin), Math.min(width, area.x1 + margin)];
    for (let row = 0; row < down; row++) {
      const y = Math.min(height - 1, Math.max(0, area.y0 - margin + row));
      const to = row * across - area.x0 + margin;
      for (let x = first; x < last;) {
        const stop = Math.min(last, (Math.floor(x / TILE) + 1) * TILE);
        const part = input.tile(Math.floor(y / TILE) * input.tilesX + Math.floor(x / TILE));
        const from = (y % TILE) * TILE + (x % TILE);
        if (part) coverage.set(part.subarray(from, from + stop - x), to + x);
        x = stop;
      }
      coverage.fill(coverage[to + first]!, row * across, to + first);
      coverage.fill(coverage[to + last - 1]!, to + last, (row + 1) * across);
    }
    return coverage;
  }
}

/** Rows of an area as rows of a tile. */
function spread(coverage: Float32Array, across: number): Float32Array {
  if (coverage.length === TILE_PIXELS) return coverage;
  const out = new Float32Array(TILE_PIXELS);
  for (let y = 0; y * across < coverage.length; y++)
    out.set(coverage.subarray(y * across, (y + 1) * across), y * TILE);
  return out;
}
