import type { FieldValue } from '../fields/field.ts';
import { isNeutral, wholeValues } from '../fields/values.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import type { CastLayer } from '../cast/cast.ts';
import type { Change, CorrectionUse } from '../changes/change.ts';
import { TILE, tilesAcross, tileBounds } from '../planes/tiles.ts';
import { ChangeMask } from '../masks/change-mask.ts';
import type { Correction, Pixels } from '../corrections/correction.ts';
import { correctionOf } from '../corrections/registry.ts';

interface Step {
  correction: Correction;
  values: Record<string, FieldValue>;
}

interface Applied {
  change: Change;
  steps: Step[];
  mask: ChangeMask;
  signature: string;
}

/** Corrections of a change that do something; unknown kinds and neutral values are left out. */
function activeSteps(uses: readonly CorrectionUse[]): Step[] {
  return uses.flatMap((use) => {
    const correction = use.on ? correctionOf(use.kind) : undefined;
    if (!correction) return [];
    return isNeutral(correction.fields, use.values)
      ? []
      : [{ correction, values: wholeValues(correction.fields, use.values) }];
  });
}

/**
 * The change list applied to a picture, tile by tile. Only tiles that a mask touches are computed; what lies
 * below the change being edited is kept, so that a slider costs one change, not the list.
 * Where coverage is 0 a pixel is never written, so it stays bit-identical.
 */
export class ChangeStack {
  readonly result: RgbPlanes;
  readonly tilesX: number;
  readonly tilesY: number;
  private applied: Applied[] = [];
  private readonly masks = new Map<string, ChangeMask>();
  private editedAt = -1;
  private belowSignature = '';
  private readonly below = new Map<number, Float32Array>();
  private readonly scratch: Pixels & { at: Uint32Array; cover: Float32Array } = {
    count: 0,
    r: new Float32Array(TILE * TILE),
    g: new Float32Array(TILE * TILE),
    b: new Float32Array(TILE * TILE),
    at: new Uint32Array(TILE * TILE),
    cover: new Float32Array(TILE * TILE),
  };

  constructor(
    readonly source: RgbPlanes,
    private readonly cast: readonly CastLayer[],
  ) {
    this.result = { ...source, r: source.r.slice(), g: source.g.slice(), b: source.b.slice() };
    this.tilesX = tilesAcross(source.width);
    this.tilesY = tilesAcross(source.height);
  }

  /** The mask of a change of the current list. */
  mask(changeId: string): ChangeMask | undefined {
    return this.masks.get(changeId);
  }

  /**
   * Takes a new list. Nothing is computed but masks; returns the tiles whose pixels have to be, which the caller
   * passes to {@link renderTile} in any order and at its own pace.
   * @param edited the change whose values are being moved, if any
   */
  update(changes: readonly Change[], edited?: string): number[] {
    const before = this.applied;
    const tileCount = this.tilesX * this.tilesY;
    const next = changes.map((change): Applied => {
      const known = before.find((a) => a.change.id === change.id);
      const samePicks = known && JSON.stringify(known.change.who) === JSON.stringify(change.who);
      let mask = this.masks.get(change.id);
      if (!mask || !samePicks) {
        mask ??= new ChangeMask(this.cast, {
          pixels: this.source.width * this.source.height,
          tiles: tileCount,
        });
        mask.update(change.who);
        this.masks.set(change.id, mask);
      }
      const steps = change.on ? activeSteps(change.corrections) : [];
      const signature = steps.length
        ? JSON.stringify([change.who, steps.map((s) => [s.correction.kind, s.values])])
        : '';
      return { change, steps, mask, signature };
    });
    for (const id of this.masks.keys()) if (!changes.some((c) => c.id === id)) this.masks.delete(id);

    const dirty = this.dirtyTiles(before, next);
    this.applied = next;
    this.lastTiles = next.map((a) => a.mask.tiles);
    this.editedAt = next.findIndex((a) => a.change.id === edited);
    const belowSignature = next
      .slice(0, Math.max(0, this.editedAt))
      .map((a) => a.change.id + a.signature)
      .join('\n');
    if (belowSignature !== this.belowSignature) {
      this.below.clear();
      this.belowSignature = belowSignature;
    }
    const list: number[] = [];
    for (let t = 0; t < tileCount; t++) if (dirty[t]) list.push(t);
    return list;
  }

  /** Tiles of `applied` as they were when they were last rendered: masks are updated in place. */
  private lastTiles: Uint8Array[] = [];

  private dirtyTiles(before: Applied[], next: Applied[]): Uint8Array {
    const dirty = new Uint8Array(this.tilesX * this.tilesY);
    const mark = (tiles: Uint8Array) => {
      for (let t = 0; t < dirty.length; t++) if (tiles[t]) dirty[t] = 1;
    };
    // Lists that agree at both ends differ only in between.
    const active = (list: Applied[]) => list.filter((a) => a.signature !== '');
    const old = active(before);
    const now = active(next);
    const same = (a?: Applied, b?: Applied) =>
      a !== undefined && b !== undefined && a.change.id === b.change.id && a.signature === b.signature;
    let from = 0;
    while (same(old[from], now[from])) from++;
    let oldEnd = old.length;
    let nowEnd = now.length;
    while (oldEnd > from && nowEnd > from && same(old[oldEnd - 1], now[nowEnd - 1])) {
      oldEnd--;
      nowEnd--;
    }
    for (const a of old.slice(from, oldEnd)) mark(this.lastTiles[before.indexOf(a)]!);
    for (const a of now.slice(from, nowEnd)) mark(a.mask.tiles);
    return dirty;
  }

  /** Computes one tile of the result from the current list. */
  renderTile(tile: number): void {
    const { source, result } = this;
    const { x0, y0, x1, y1 } = tileBounds(tile, this.tilesX, source.width, source.height);
    const kept = this.below.get(tile);
    let from = 0;
    if (kept) {
      this.copyTile(kept, result, x0, y0, x1, y1, 'in');
      from = this.editedAt;
    } else
      for (let y = y0; y < y1; y++) {
        const row = y * source.width;
        result.r.set(source.r.subarray(row + x0, row + x1), row + x0);
        result.g.set(source.g.subarray(row + x0, row + x1), row + x0);
        result.b.set(source.b.subarray(row + x0, row + x1), row + x0);
      }
    for (let i = from; i < this.applied.length; i++) {
      if (i === this.editedAt && i > 0 && !kept) {
        const copy = new Float32Array(3 * TILE * TILE);
        this.copyTile(copy, result, x0, y0, x1, y1, 'out');
        this.below.set(tile, copy);
      }
      const a = this.applied[i]!;
      if (a.steps.length && a.mask.tiles[tile]) this.applyTo(a, x0, y0, x1, y1);
    }
  }

  private copyTile(
    buffer: Float32Array,
    planes: RgbPlanes,
    x0: number,
    y0: number,
    x1: number,
    y1: number,
    way: 'in' | 'out',
  ): void {
    let at = 0;
    for (const plane of [planes.r, planes.g, planes.b])
      for (let y = y0; y < y1; y++) {
        const from = y * planes.width + x0;
        if (way === 'in') plane.set(buffer.subarray(at, at + x1 - x0), from);
        else buffer.set(plane.subarray(from, from + x1 - x0), at);
        at += x1 - x0;
      }
  }

  private applyTo({ steps, mask }: Applied, x0: number, y0: number, x1: number, y1: number): void {
    const { scratch: s, result } = this;
    const { coverage } = mask;
    let n = 0;
    for (let y = y0; y < y1; y++)
      for (let p = y * result.width + x0, end = p + x1 - x0; p < end; p++) {
        const c = coverage[p]!;
        if (!(c > 0)) continue;
        s.at[n] = p;
        s.cover[n] = c > 1 ? 1 : c;
        s.r[n] = result.r[p]!;
        s.g[n] = result.g[p]!;
        s.b[n] = result.b[p]!;
        n++;
      }
    s.count = n;
    for (const { correction, values } of steps) correction.apply(s, values);
    for (let i = 0; i < n; i++) {
      const p = s.at[i]!;
      const c = s.cover[i]!;
      result.r[p]! += (s.r[i]! - result.r[p]!) * c;
      result.g[p]! += (s.g[i]! - result.g[p]!) * c;
      result.b[p]! += (s.b[i]! - result.b[p]!) * c;
    }
  }

  /** Mean scene-linear colour under a change's mask, in the picture as rendered and as corrected. */
  swatches(
    changeId: string,
  ): { before: [number, number, number]; after: [number, number, number] } | undefined {
    const mask = this.masks.get(changeId);
    if (!mask || mask.coverage.length === 0) return undefined;
    const sums = new Float64Array(7);
    const { source, result } = this;
    for (let tile = 0; tile < mask.tiles.length; tile++) {
      if (!mask.tiles[tile]) continue;
      const { x0, y0, x1, y1 } = tileBounds(tile, this.tilesX, source.width, source.height);
      for (let y = y0; y < y1; y++)
        for (let p = y * source.width + x0, end = p + x1 - x0; p < end; p++) {
          const c = mask.coverage[p]!;
          if (!(c > 0)) continue;
          sums[0]! += c;
          sums[1]! += c * source.r[p]!;
          sums[2]! += c * source.g[p]!;
          sums[3]! += c * source.b[p]!;
          sums[4]! += c * result.r[p]!;
          sums[5]! += c * result.g[p]!;
          sums[6]! += c * result.b[p]!;
        }
    }
    const w = sums[0]!;
    if (w === 0) return undefined;
    return {
      before: [sums[1]! / w, sums[2]! / w, sums[3]! / w],
      after: [sums[4]! / w, sums[5]! / w, sums[6]! / w],
    };
  }
}
