/** Pixel filters by name: shape over the distance from the pixel's centre, and radius in pixels. */
const FILTERS = {
  box: { radius: 0.5, shape: () => 1 },
  triangle: { radius: 1, shape: (d: number) => 1 - d },
  gaussian: { radius: 1.5, shape: (d: number) => Math.exp(-2 * d * d) - Math.exp(-2 * 1.5 * 1.5) },
  'blackman-harris': {
    radius: 1.65,
    shape: (d: number) => {
      const x = Math.PI * (1 + d / 1.65);
      return 0.35875 - 0.48829 * Math.cos(x) + 0.14128 * Math.cos(2 * x) - 0.01168 * Math.cos(3 * x);
    },
  },
} as const;

export type PixelFilter = keyof typeof FILTERS;
export const PIXEL_FILTERS = Object.keys(FILTERS) as PixelFilter[];

/** Farthest that a filter reaches from the pixel's centre along one axis, in pixels. */
export const filterRadius = (filter: PixelFilter): number => FILTERS[filter].radius;

const STEPS = 512;
const TABLE = 4096;

/**
 * Offsets from the pixel's centre in pixels, along one axis, for random numbers in even steps from 0 to 1; with one more
 * at the end. Filter importance sampling (Ernst, Stamminger, Greiner 2006): sample positions are spread like the filter, so
 * that every sample has the same weight. Coverage of an ID is then a plain share of samples, and beauty and masks
 * are filtered by exactly the same weights.
 */
export function filterTable(filter: PixelFilter): Float64Array {
  const { radius, shape } = FILTERS[filter];
  const sums = new Float64Array(STEPS + 1);
  for (let i = 0; i < STEPS; i++) {
    const d = Math.abs(((i + 0.5) / STEPS) * 2 - 1) * radius;
    sums[i + 1] = sums[i]! + Math.max(0, shape(d));
  }
  const total = sums[STEPS]!;
  // The inverse of the sums, tabulated: it is asked for twice a sample.
  const offsets = new Float64Array(TABLE + 2);
  for (let i = 0, low = 0; i <= TABLE; i++) {
    const wanted = (i / TABLE) * total;
    while (low < STEPS - 1 && sums[low + 1]! <= wanted) low++;
    const part = (wanted - sums[low]!) / (sums[low + 1]! - sums[low]! || 1);
    offsets[i] = (((low + Math.min(1, part)) / STEPS) * 2 - 1) * radius;
  }
  offsets[TABLE + 1] = offsets[TABLE]!;
  return offsets;
}

/** The offset from the pixel's centre in pixels, along one axis, for u in 0 to 1. */
export function filterOffsets(filter: PixelFilter): (u: number) => number {
  const offsets = filterTable(filter);
  return (u) => {
    const x = u * TABLE;
    const i = x | 0;
    return offsets[i]! + (offsets[i + 1]! - offsets[i]!) * (x - i);
  };
}
