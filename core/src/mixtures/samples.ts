import { LEVELS } from './neighbourhood.ts';

/** Cells around a pixel with what they count; level by level. */
export interface Samples {
  /** Of the window, in pixels. */
  width: number;
  count: number;
  level: Uint8Array;
  dx: Int8Array;
  dy: Int8Array;
  weight: Float64Array;
}

/** Widths of the window, in pixels. */
export const WIDTHS: readonly number[] = [0.7, 1, 1.4, 2, 2.8, 4, 5.6, 8, 11, 16];
/** Cells that count less than this share of the one that counts most are left out. */
const LEAST = 2e-3;

/** All 25 pixels of 5x5, and of each coarser level the 16 cells two cells away: weight 4^l / (1 + d²/w²)³. */
function samplesOf(width: number): Samples {
  const cells: { level: number; dx: number; dy: number; weight: number }[] = [];
  for (let level = 0; level < LEVELS; level++)
    for (let dy = -2; dy <= 2; dy++)
      for (let dx = -2; dx <= 2; dx++) {
        if (level > 0 && Math.max(Math.abs(dx), Math.abs(dy)) < 2) continue;
        const d2 = (dx * dx + dy * dy) * 4 ** level;
        cells.push({ level, dx, dy, weight: 4 ** level / (1 + d2 / width ** 2) ** 3 });
      }
  const most = Math.max(...cells.map((c) => c.weight));
  const kept = cells.filter((c) => c.weight > LEAST * most);
  return {
    width,
    count: kept.length,
    level: Uint8Array.from(kept, (c) => c.level),
    dx: Int8Array.from(kept, (c) => c.dx),
    dy: Int8Array.from(kept, (c) => c.dy),
    weight: Float64Array.from(kept, (c) => c.weight),
  };
}

/** For each width what is looked at. */
export const SAMPLES: readonly Samples[] = WIDTHS.map(samplesOf);
/** Cells of the largest of them. */
export const MOST_SAMPLES = Math.max(...SAMPLES.map((s) => s.count));
