import type { IdIndex } from './id-index.ts';

/**
 * Mean of a plane under each slot, weighted by coverage; NaN where it has no finite value. Pixels that show a thing alone
 * go before mixed ones, in which a value of depth belongs to none of the things.
 */
export function meansUnder(index: IdIndex, plane: Float32Array): Float64Array {
  const { slot, pixel, length, coverage, ids } = index;
  const alone = { sum: new Float64Array(ids.length), weight: new Float64Array(ids.length) };
  const mixed = { sum: new Float64Array(ids.length), weight: new Float64Array(ids.length) };
  for (let i = 0; i < slot.length; i++) {
    const s = slot[i]!;
    const { sum, weight } = coverage[i]! > 0.99 ? alone : mixed;
    for (let p = pixel[i]!, end = p + length[i]!; p < end; p++) {
      if (!Number.isFinite(plane[p]!)) continue;
      sum[s]! += coverage[i]! * plane[p]!;
      weight[s]! += coverage[i]!;
    }
  }
  return Float64Array.from(ids, (_, s) => {
    const { sum, weight } = alone.weight[s]! > 0 ? alone : mixed;
    return weight[s]! > 0 ? sum[s]! / weight[s]! : NaN;
  });
}

/** Slots that lie farther away than all of some others, or nearer than all of them, by the mean of a depth plane. */
export function slotsByDepth(
  index: IdIndex,
  depth: Float32Array,
  than: readonly number[],
  way: 'behind' | 'before',
): number[] {
  const means = meansUnder(index, depth);
  const own = than.map((s) => means[s]!).filter((v) => Number.isFinite(v));
  if (own.length === 0) return [];
  const [near, far] = [Math.min(...own), Math.max(...own)];
  return [...means.keys()].filter(
    (s) => !than.includes(s) && (way === 'behind' ? means[s]! > far : means[s]! < near),
  );
}
