import type { IdIndex } from '../../idindex/id-index.ts';
import type { LayerPicks } from '../../picks/resolve.ts';

/** What the picks say of the members of one ID layer: for each slot of its index, and last for what has no ID at all. */
export interface SlotShares {
  /** How much of it is put in, taken out, and let through by limits, 0 to 1. */
  plus: Float32Array;
  minus: Float32Array;
  within: Float32Array;
}

export function noShares(index: IdIndex): SlotShares {
  const slots = index.ids.length + 1;
  return {
    plus: new Float32Array(slots),
    minus: new Float32Array(slots),
    within: new Float32Array(slots).fill(1),
  };
}

export function sharesOfPicks(index: IdIndex, picks: LayerPicks | undefined): SlotShares {
  const shares = noShares(index);
  if (!picks) return shares;
  const write = (amounts: ReadonlyMap<number, number>, to: Float32Array) => {
    for (const [id, amount] of amounts) {
      const slot = index.slotOf.get(id);
      if (slot !== undefined) to[slot] = amount;
    }
  };
  write(picks.with, shares.plus);
  write(picks.without, shares.minus);
  if (picks.inside) write(picks.inside, shares.within.fill(0));
  return shares;
}

/** How much of each slot is in the mask where no other layer has a say. */
export const ownShares = ({ plus, minus, within }: SlotShares): Float32Array =>
  plus.map((p, s) => p * (1 - minus[s]!) * within[s]!);
