import type { IdIndex } from '../../idindex/id-index.ts';
import type { RankPlanes } from '../../idlayers/rank-planes.ts';
import { encodeCryptomatte } from '../../idlayers/cryptomatte.ts';
import { listedNames, type RewriteKind } from './rewrite.ts';
import { ranksOf, type PixelMembers } from './ranks.ts';

/** Steps in which coverage is kept. */
export const STEPS = 1024;

/**
 * Rounds the coverages of a pixel to steps of 1/1024 so that each moves by at most one step and all together still cover
 * no more than they did: the largest remainders are rounded up, the others down. Far fewer different bits pack far
 * better.
 */
export function settleSteps({ count, coverage }: Pick<PixelMembers, 'count' | 'coverage'>): void {
  let [sum, whole] = [0, 0];
  for (let i = 0; i < count; i++) {
    sum += coverage[i]! * STEPS;
    whole += Math.floor(coverage[i]! * STEPS);
  }
  // Sums that are 1 but for the rounding of floats stay 1.
  let up = Math.round(sum) - whole;
  const left = Array.from({ length: count }, (_, i) => i).sort((a, b) => {
    const rest = (i: number) => coverage[i]! * STEPS - Math.floor(coverage[i]! * STEPS);
    return rest(b) - rest(a) || a - b;
  });
  for (const i of left) {
    const steps = coverage[i]! * STEPS;
    const floor = Math.floor(steps);
    coverage[i] = (up > 0 && steps > floor ? floor + 1 : floor) / STEPS;
    if (up > 0 && steps > floor) up--;
  }
}

/**
 * An ID layer with nothing more than it needs: as many ranks as the fullest pixel has members, coverages in steps of
 * 1/1024, the same IDs. Still 32-bit float, because IDs fit in nothing less.
 */
export const slimRanks = (index: IdIndex, chosen: (id: number) => boolean = (id) => id !== 0): RankPlanes =>
  ranksOf(index, chosen, settleSteps);

/** A cryptomatte with nothing more than it needs, as a form to write it in. */
export const asSlim: RewriteKind = {
  kind: 'slim',
  label: 'Slim cryptomatte',
  write(layer, index, members) {
    const ids = new Set(members.map((m) => m.id));
    return encodeCryptomatte(
      layer,
      slimRanks(index, (id) => ids.has(id)),
      listedNames(members),
    );
  },
};
