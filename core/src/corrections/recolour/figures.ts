/** A number for each channel. */
export type Three = readonly [number, number, number];
export const three = (of: (k: number) => number): Three => [of(0), of(1), of(2)];

/** Pixels of which a quantile is found: of more every so many is looked at. */
const MOST = 20_000;

/** The value below which such a share of some values lies, between neighbours in proportion; 0 of none. */
export function quantile(values: Float32Array, share: number): number {
  const step = Math.ceil(values.length / MOST);
  const some = step > 1 ? values.filter((_, i) => i % step === 0) : values.slice();
  if (some.length === 0) return 0;
  some.sort();
  const at = share * (some.length - 1);
  const low = Math.floor(at);
  return some[low]! + (at - low) * (some[Math.min(low + 1, some.length - 1)]! - some[low]!);
}

/** Mean by weight; 0 where nothing weighs anything. */
export function meanOf(values: Float32Array, weight: Float32Array): number {
  let [sum, weights] = [0, 0];
  for (let i = 0; i < values.length; i++) {
    sum += weight[i]! * values[i]!;
    weights += weight[i]!;
  }
  return weights > 0 ? sum / weights : 0;
}
