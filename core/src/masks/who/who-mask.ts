import type { CastLayer } from '../../cast/cast.ts';
import type { IdIndex } from '../../idindex/id-index.ts';
import type { MemberPick } from '../../picks/member-pick.ts';
import { resolvePicks } from '../../picks/resolve.ts';
import type { Size } from '../../planes/size.ts';
import type { Allocate } from '../../planes/tile-store.ts';
import { TileMask } from '../tile-mask.ts';
import { MemberMask } from './member-mask.ts';

/**
 * The first step of every mask: coverage of what a *who* names.
 *
 * Within one layer the result is exact. Across layers the joint coverage of two IDs in a pixel is not stored in
 * any file, so it is taken as if the smaller lay inside the larger (`with`: maximum, `inside`: minimum) and for
 * `without` as if what is taken out lay inside (difference): right for a thing and its own material, and never
 * wider than the truth.
 */
export class WhoMask {
  missing: MemberPick[] = [];
  private readonly parts = new Map<string, MemberMask>();
  private own: TileMask | undefined;
  /** Which parts the mask is put together from. */
  private structure = '';
  private single: MemberMask | undefined;

  constructor(
    private readonly cast: readonly CastLayer[],
    private readonly size: Size,
    private readonly allocate?: Allocate,
  ) {}

  get mask(): TileMask {
    return this.single?.mask ?? (this.own ??= new TileMask(this.size, this.allocate));
  }

  /** The index and the chosen slots where all members are picked in one layer; undefined otherwise. */
  get members(): { index: IdIndex; chosen: Uint8Array } | undefined {
    return this.single && { index: this.single.index, chosen: this.single.chosen };
  }

  private part(use: string, layerName: string): MemberMask | undefined {
    const key = `${use} ${layerName}`;
    let part = this.parts.get(key);
    if (!part) {
      const layer = this.cast.find((l) => l.name === layerName);
      if (!layer) return undefined;
      this.parts.set(key, (part = new MemberMask(layer.index, this.allocate)));
    }
    return part;
  }

  /** Makes the mask that of `picks`; costs what differs from the picks before. Returns a byte a tile, 1 if it changed. */
  update(picks: readonly MemberPick[]): Uint8Array {
    const { with: plus, without: minus, inside, missing } = resolvePicks(picks, this.cast);
    this.missing = missing;
    const before = this.mask;
    // Its tiles may go while the parts are brought up to date.
    const had = Uint8Array.from({ length: before.tileCount }, (_, t) => (before.has(t) ? 1 : 0));
    const changed = new Uint8Array(before.tileCount);
    const follow = (tiles: Uint8Array) => tiles.forEach((t, i) => (changed[i]! |= t));
    const used = new Set<MemberMask>();
    const take = (use: string, layer: string, ids: ReadonlySet<number>): MemberMask | undefined => {
      const part = this.part(use, layer);
      if (!part) return undefined;
      follow(part.setMembers(ids));
      used.add(part);
      return part;
    };
    const added = [...plus].flatMap(([name, ids]) => {
      const taken = minus.get(name);
      return take('with', name, taken ? new Set([...ids].filter((id) => !taken.has(id))) : ids) ?? [];
    });
    const foreign = [...minus].filter(([name]) => [...plus.keys()].some((other) => other !== name));
    const removed = foreign.flatMap(([name, ids]) => take('without', name, ids) ?? []);
    // A layer that is not there limits the mask to nothing.
    const limits = [...inside].map(([name, ids]) => take('inside', name, ids));
    for (const part of this.parts.values()) if (!used.has(part)) follow(part.setMembers(new Set()));

    const structure = JSON.stringify([[...plus.keys()], foreign.map(([name]) => name), [...inside.keys()]]);
    const single = added.length === 1 && removed.length + limits.length === 0 ? added[0] : undefined;
    if (single) {
      this.single = single;
      this.own = undefined;
    } else {
      this.single = undefined;
      const target = this.mask;
      // Put together in another way than before: wherever there is anything.
      const again = target !== before || structure !== this.structure;
      for (let t = 0; t < changed.length; t++)
        if (changed[t] || again) combine(target, t, added, removed, limits);
    }
    if (this.mask !== before || structure !== this.structure)
      for (let t = 0; t < changed.length; t++) if (had[t] || this.mask.has(t)) changed[t] = 1;
    this.structure = structure;
    return changed;
  }
}

function combine(
  target: TileMask,
  tile: number,
  added: readonly MemberMask[],
  removed: readonly MemberMask[],
  limits: readonly (MemberMask | undefined)[],
): void {
  const tiles = added.flatMap(({ mask }) => mask.tile(tile) ?? []);
  if (tiles.length === 0 || limits.some((l) => !l?.mask.has(tile))) {
    target.drop(tile);
    return;
  }
  const out = target.cleared(tile);
  for (const part of tiles) for (let i = 0; i < out.length; i++) if (part[i]! > out[i]!) out[i] = part[i]!;
  for (const { mask } of removed) {
    const part = mask.tile(tile);
    if (part) for (let i = 0; i < out.length; i++) out[i] = Math.max(0, out[i]! - part[i]!);
  }
  for (const limit of limits) {
    const part = limit!.mask.tile(tile)!;
    for (let i = 0; i < out.length; i++) out[i] = Math.min(out[i]!, part[i]!);
  }
}
