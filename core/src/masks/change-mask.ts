import { resolvePicks } from '../picks/resolve.ts';
import type { CastLayer } from '../cast/cast.ts';
import type { MemberPick } from '../picks/member-pick.ts';
import { LayerMask } from './layer-mask.ts';

/**
 * The mask of a change's *who*, updated in place as picks come and go.
 *
 * Within one layer the result is exact. Across layers the joint coverage of two IDs in a pixel is not stored in
 * any file, so it is taken as if the smaller lay inside the larger (`with`: maximum, `inside`: minimum) and for
 * `without` as if what is taken out lay inside (difference): right for a thing and its own material, and never
 * wider than the truth.
 */
export class ChangeMask {
  coverage: Float32Array;
  /** One byte a tile: 1 where the mask may be above 0. */
  tiles: Uint8Array;
  missing: MemberPick[] = [];
  private readonly layers = new Map<string, LayerMask>();
  private readonly size: number;

  constructor(
    private readonly cast: readonly CastLayer[],
    size: { pixels: number; tiles: number },
  ) {
    this.size = size.pixels;
    this.coverage = new Float32Array(0);
    this.tiles = new Uint8Array(size.tiles);
  }

  private layer(key: string, name: string): LayerMask | undefined {
    let mask = this.layers.get(key);
    if (!mask) {
      const layer = this.cast.find((l) => l.name === name);
      if (!layer) return undefined;
      this.layers.set(key, (mask = new LayerMask(layer.index)));
    }
    return mask;
  }

  /** Makes the mask that of `picks`; costs what differs from the picks before. */
  update(picks: readonly MemberPick[]): void {
    const { with: plus, without: minus, inside, missing } = resolvePicks(picks, this.cast);
    this.missing = missing;
    const parts: LayerMask[] = [];
    for (const [name, ids] of plus) {
      const mask = this.layer(`with ${name}`, name)!;
      const taken = minus.get(name);
      mask.setMembers(taken ? new Set([...ids].filter((id) => !taken.has(id))) : ids);
      parts.push(mask);
    }
    this.tiles = new Uint8Array(this.tiles.length);
    for (const part of parts) part.touchedTiles().forEach((t, i) => (this.tiles[i]! |= t));

    const foreign = [...minus].filter(([name]) => [...plus.keys()].some((other) => other !== name));
    if (parts.length === 1 && foreign.length === 0 && inside.size === 0) {
      this.coverage = parts[0]!.coverage;
      return;
    }
    const out = new Float32Array(this.size);
    for (const { coverage } of parts)
      for (let p = 0; p < out.length; p++) if (coverage[p]! > out[p]!) out[p] = coverage[p]!;
    for (const [name, ids] of foreign) {
      const mask = this.layer(`without ${name}`, name)!;
      mask.setMembers(ids);
      for (let p = 0; p < out.length; p++) out[p] = Math.max(0, out[p]! - mask.coverage[p]!);
    }
    for (const [name, ids] of inside) {
      const mask = this.layer(`inside ${name}`, name);
      mask?.setMembers(ids);
      for (let p = 0; p < out.length; p++) out[p] = Math.min(out[p]!, mask ? mask.coverage[p]! : 0);
    }
    this.coverage = out;
  }
}
