import type { IdIndex } from './id-index.ts';

/** Middles of all slots of an index, in pixels from its upper left corner. */
export interface Middles {
  x: Float64Array;
  y: Float64Array;
}

/** An index does not change, and its middles are asked for again and again. */
const known = new WeakMap<IdIndex, Middles>();

/** Where each slot's coverage lies in the mean; NaN for one that covers nothing. */
export function middlesOf(index: IdIndex): Middles {
  const found = known.get(index);
  if (found) return found;
  const { width, slot, pixel, length, coverage, coverageOf, ids } = index;
  const [x, y] = [new Float64Array(ids.length), new Float64Array(ids.length)];
  for (let i = 0; i < slot.length; i++) {
    const s = slot[i]!;
    const weight = coverage[i]! * length[i]!;
    x[s]! += weight * ((pixel[i]! % width) + length[i]! / 2);
    y[s]! += weight * (Math.floor(pixel[i]! / width) + 0.5);
  }
  for (let s = 0; s < ids.length; s++) {
    x[s]! /= coverageOf[s]!;
    y[s]! /= coverageOf[s]!;
  }
  const middles = { x, y };
  known.set(index, middles);
  return middles;
}
