import type { IdIndex } from '../idindex/id-index.ts';

/**
 * How many IDs the pixels of a layer hold: `at[n]` pixels hold exactly n. What no ID covers is none. Tells how many
 * ranks a layer needs, and what would be lost with fewer.
 */
export function ranksNeeded({ width, height, rowStart, pixel, length, slot, ids }: IdIndex): number[] {
  const at: number[] = [];
  const steps = new Int32Array(width + 1);
  for (let y = 0; y < height; y++) {
    steps.fill(0);
    for (let i = rowStart[y]!; i < rowStart[y + 1]!; i++) {
      if (ids[slot[i]!] === 0) continue;
      const x = pixel[i]! - y * width;
      steps[x]!++;
      steps[x + length[i]!]!--;
    }
    for (let x = 0, n = 0; x < width; x++) {
      n += steps[x]!;
      at[n] = (at[n] ?? 0) + 1;
    }
  }
  return Array.from(at, (n) => n ?? 0);
}

/** The same in a sentence. Two ranks are a layer of the file. */
export function explainRanks(at: readonly number[], ranks: number): string {
  const covered = at.slice(1).reduce((sum, n) => sum + n, 0);
  if (covered === 0) return 'Nothing in this frame has an ID.';
  const upTo = (n: number) => at.slice(1, n + 1).reduce((sum, k) => sum + k, 0);
  const percent = (n: number) => {
    const share = (100 * n) / covered;
    return share > 99.95 && n < covered ? '99.9 %' : `${Number(share.toFixed(share > 99 ? 1 : 0))} %`;
  };
  const most = at.length - 1;
  const layers = Math.ceil(ranks / 2);
  const first = `${layers} ${layers === 1 ? 'layer' : 'layers'}, two ranks in each. `;
  if (most <= 2) return `${first}No pixel needs more than the first two.`;
  return `${first}${percent(upTo(2))} of the pixels need only the first two; the fullest pixel holds ${most} IDs${most >= ranks ? ', as many as there is room for' : ''}.`;
}

/** How many pixels need 2, 4, 6 … ranks, for people: two ranks are a layer of the file. */
export function rankCounts(at: readonly number[]): string {
  const parts: string[] = [];
  for (let n = 1; n < at.length; n += 2) {
    const pixels = at[n]! + (at[n + 1] ?? 0);
    parts.push(`${n + 1} ranks: ${pixels.toLocaleString('en')} pixels`);
  }
  return parts.join(' · ');
}
