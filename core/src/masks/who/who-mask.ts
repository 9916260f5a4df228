import type { CastLayer } from '../../cast/cast.ts';
import type { IdIndex } from '../../idindex/id-index.ts';
import type { MemberPick } from '../../picks/member-pick.ts';
import { resolvePicks } from '../../picks/resolve.ts';
import type { Size } from '../../planes/size.ts';
import type { Allocate } from '../../planes/tile-store.ts';
import { TileMask } from '../tile-mask.ts';
import { fillTiles, markTiles } from './member-mask.ts';
import { ShownTogether, type LayerShares } from './shown-together.ts';
import { noShares, ownShares, sharesOfPicks, type SlotShares } from './slot-shares.ts';

/**
 * The first step of every mask: coverage of what a *who* names. Within one layer it is exact; how several layers are
 * taken together at pixels that show several things is {@link ShownTogether}'s business.
 */
export class WhoMask {
  missing: MemberPick[] = [];
  readonly mask: TileMask;
  /** Layers that picks have named, in the order in which they first did. */
  private readonly layers = new Map<string, LayerShares>();
  private main: IdIndex | undefined;

  constructor(
    private readonly cast: readonly CastLayer[],
    size: Size,
    allocate?: Allocate,
  ) {
    this.mask = new TileMask(size, allocate);
  }

  /**
   * The members of the layer in which the first picks put something in, 1 for each slot of its index that is in; other
   * layers only limit them or go beyond them. Undefined where nothing is put in.
   */
  get members(): { index: IdIndex; chosen: Uint8Array } | undefined {
    const { main } = this;
    const own = [...this.layers.values()].find((l) => l.index === main);
    if (!own) return undefined;
    const shares = ownShares(own.shares);
    return { index: own.index, chosen: Uint8Array.from(shares.subarray(0, -1), (s) => (s > 0 ? 1 : 0)) };
  }

  /** Makes the mask that of `picks`; costs what differs from the picks before. Returns a byte a tile, 1 if it changed. */
  update(picks: readonly MemberPick[]): Uint8Array<ArrayBuffer> {
    const { cast, layers, mask } = this;
    const resolved = resolvePicks(picks, cast);
    this.missing = resolved.missing;
    // A layer that is not there limits the mask to nothing.
    const nothing = [...resolved.layers].some(
      ([name, { inside }]) => inside && !cast.some((l) => l.name === name),
    );
    const changed = new Uint8Array(mask.tileCount);
    for (const { name, index } of cast) {
      const wanted = nothing ? undefined : resolved.layers.get(name);
      const before = layers.get(name)?.shares;
      if (!wanted && !before) continue;
      const shares = sharesOfPicks(index, wanted);
      markDifferences(index, before ?? noShares(index), shares, changed);
      layers.set(name, { index, shares });
    }
    const named = [...resolved.layers].find(([, p]) => p.with.size > 0)?.[0];
    this.main = cast.find((l) => l.name === named)?.index;
    this.fill(changed);
    return changed;
  }

  /** Computes the marked tiles; which layers have a say is decided tile by tile, and is exact where it is only one. */
  private fill(changed: Uint8Array): void {
    const { mask } = this;
    const layers = [...this.layers.values()].map((layer) => ({
      ...layer,
      ...tilesOf(layer, mask.tileCount),
    }));
    const alone = layers.map(() => new Uint8Array(mask.tileCount));
    const together = new Map<string, ShownTogether>();
    for (let t = 0; t < changed.length; t++) {
      if (!changed[t]) continue;
      const having = layers.flatMap((l, i) => (l.any[t] ? [i] : []));
      if (!having.some((i) => layers[i]!.plus[t])) mask.drop(t);
      else if (having.length === 1) alone[having[0]!]![t] = 1;
      else {
        const key = having.join();
        let joint = together.get(key);
        if (!joint) together.set(key, (joint = new ShownTogether(having.map((i) => layers[i]!))));
        if (!joint.fill(t, mask.cleared(t))) mask.drop(t);
      }
    }
    layers.forEach(({ index, shares }, i) => fillTiles(index, ownShares(shares), mask, alone[i]!));
  }
}

/** Marks the tiles of members of which something else is said than before. */
function markDifferences(index: IdIndex, a: SlotShares, b: SlotShares, changed: Uint8Array): void {
  const differs = (s: number) =>
    a.plus[s] !== b.plus[s] || a.minus[s] !== b.minus[s] || a.within[s] !== b.within[s];
  const none = index.ids.length;
  // Where nothing has an ID is not known by tiles.
  if (differs(none)) changed.fill(1);
  else for (let slot = 0; slot < none; slot++) if (differs(slot)) markTiles(index, slot, changed);
}

/** Tiles in which anything is put in, and in which the layer has any say. */
function tilesOf({ index, shares }: LayerShares, count: number): { plus: Uint8Array; any: Uint8Array } {
  const [plus, any] = [new Uint8Array(count), new Uint8Array(count)];
  const none = index.ids.length;
  for (let slot = 0; slot < none; slot++) {
    if (shares.plus[slot]! > 0) markTiles(index, slot, plus);
    if (shares.minus[slot]! > 0 || shares.within[slot]! < 1) markTiles(index, slot, any);
  }
  for (let t = 0; t < count; t++) if (plus[t] || shares.within[none]! < 1) any[t] = 1;
  return { plus, any };
}
