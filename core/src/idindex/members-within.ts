import type { IdIndex } from './id-index.ts';

/** Share of a thing that has to lie inside for all of it to: a soft edge may look out. */
const WHOLE = 0.985;
/** Pixels of coverage inside from which on a thing is touched. */
const TOUCHED = 0.25;

/**
 * Slots of the members that lie inside a closed line, or that it touches, the largest share inside first.
 * @param line x, y, x, y … in pixels; what it winds round an even number of times is outside
 */
export function membersWithin(
  index: IdIndex,
  line: readonly number[],
  which: 'inside' | 'touched',
): number[] {
  const { width, height, rowStart, slot, pixel, length, coverage, coverageOf } = index;
  const inside = new Float64Array(index.ids.length);
  const points = line.length / 2;
  const ys = Array.from({ length: points }, (_, i) => line[2 * i + 1]!);
  const from = Math.max(0, Math.floor(Math.min(...ys)));
  const to = Math.min(height, Math.ceil(Math.max(...ys)));
  for (let y = from; y < to; y++) {
    // Where the middle line of the row crosses the shape.
    const crossings: number[] = [];
    for (let i = 0; i < points; i++) {
      const j = (i + 1) % points;
      const [ay, by] = [line[2 * i + 1]! - 0.5, line[2 * j + 1]! - 0.5];
      if (ay <= y === by <= y) continue;
      crossings.push(line[2 * i]! + ((y - ay) / (by - ay)) * (line[2 * j]! - line[2 * i]!));
    }
    crossings.sort((a, b) => a - b);
    for (let k = 0; k + 1 < crossings.length; k += 2) {
      // Pixels whose middles lie between.
      const x0 = y * width + Math.min(width, Math.max(0, Math.ceil(crossings[k]! - 0.5)));
      const x1 = y * width + Math.min(width, Math.max(0, Math.ceil(crossings[k + 1]! - 0.5)));
      for (let i = rowStart[y]!, end = rowStart[y + 1]!; i < end; i++) {
        const common = Math.min(x1, pixel[i]! + length[i]!) - Math.max(x0, pixel[i]!);
        if (common > 0) inside[slot[i]!]! += common * coverage[i]!;
      }
    }
  }
  const share = (s: number) => inside[s]! / coverageOf[s]!;
  return [...inside.keys()]
    .filter((s) => (which === 'inside' ? share(s) >= WHOLE : inside[s]! >= TOUCHED))
    .sort((a, b) => share(b) - share(a));
}
