import { renderedPair } from '../../test/fixtures/pairs.ts';
import { PAIRS } from '../../test/pairs/pairs.ts';
import { noMask } from '../changes/change.ts';
import { maskOf } from '../masks/pipeline.ts';
import type { RgbPlanes } from '../planes/rgb-planes.ts';
import { applyChanges } from './apply-changes.ts';

/** Side of the squares over which errors are added up with their sign: what is left is no noise but a fringe. */
const BLOCK = 8;

const KEYS = ['r', 'g', 'b'] as const;

/**
 * The error that is seen: at pixels that show the material together with other things, the signed difference from the
 * picture rendered in the new colour, in the mean over squares; and the mean of it over all squares. What the correction
 * gets wrong on the thing itself (highlights that should have stayed) is no fault of the edge: it is taken from pixels
 * around that show nothing else, and taken off by coverage.
 */
function fringe(seen: RgbPlanes, wanted: RgbPlanes, mask: Float32Array): number {
  const { width, height } = seen;
  const errorAt = (p: number) => KEYS.map((k) => seen[k][p]! - wanted[k][p]!);
  const pixelsOf = (x: number, y: number, by: number, counts: (c: number) => boolean) => {
    const found: number[] = [];
    for (let j = Math.max(0, y - by); j < Math.min(height, y + BLOCK + by); j++)
      for (let i = Math.max(0, x - by); i < Math.min(width, x + BLOCK + by); i++)
        if (counts(mask[j * width + i]!)) found.push(j * width + i);
    return found;
  };
  const mean = (errors: number[][]) =>
    [0, 1, 2].map((k) => (errors.length ? errors.reduce((n, e) => n + e[k]!, 0) / errors.length : 0));
  let [sum, count] = [0, 0];
  for (let y = 0; y < height; y += BLOCK)
    for (let x = 0; x < width; x += BLOCK) {
      const mixed = pixelsOf(x, y, 0, (c) => c >= 0.02 && c <= 0.98);
      if (mixed.length < 4) continue;
      const own = mean(pixelsOf(x, y, BLOCK, (c) => c > 0.98).map(errorAt));
      sum += Math.hypot(...mean(mixed.map((p) => errorAt(p).map((e, k) => e - mask[p]! * own[k]!))));
      count++;
    }
  return sum / count;
}

/**
 * Share of plain mixing's fringe that may be left. What shines is worse: at its outline more of the light is mirrored,
 * and a mirror image has not the material's colour.
 */
const MOST: Readonly<Record<string, number>> = {
  lids: 0.55,
  brass: 0.68,
  lavender: 0.42,
  cloth: 0.42,
  label: 0.2,
  bee: 0.36,
};

test.each(Object.entries(PAIRS))('the fringe of %s', async (name, { material, by }) => {
  const { before, after, cast } = renderedPair(name);
  const who = [{ mode: 'with' as const, layer: 'Materials', member: material }];
  const mask = maskOf({ ...before, cast }, { who }).flat();
  const corrected = (plainEdges: boolean) =>
    applyChanges({ planes: before, cast }, [
      {
        ...noMask(),
        id: 'a',
        words: '',
        on: true,
        done: false,
        who,
        plainEdges,
        corrections: [{ id: 'x', kind: 'multiply', on: true, values: { by } }],
      },
    ]);
  const [plain, clean] = [await corrected(true), await corrected(false)];
  const errors = [plain, clean].map((p) => fringe(p, after, mask));
  expect(errors[1]! / errors[0]!).toBeLessThan(MOST[name]!);
});
