import fc from 'fast-check';
import { runs } from '../../test/runs.ts';
import { boxBlur, boxOfVariance, boxReach } from '../planes/box-blur.ts';
import { boxBlurWeighed } from './box.ts';

test('the kernel gives what plain code gives, bit for bit, whatever box and window', () => {
  fc.assert(
    fc.property(
      fc.oneof(fc.constant(0), fc.double({ min: 0.001, max: 60, noNaN: true })),
      fc.integer({ min: 1, max: 3 }),
      fc.integer({ min: 1, max: 40 }),
      fc.integer({ min: 1, max: 40 }),
      fc.integer(),
      (variance, times, across, down, seed) => {
        const box = boxOfVariance(variance);
        const margin = boxReach(box, times);
        const [width, height] = [across + 2 * margin, down + 2 * margin];
        const plane = (k: number) =>
          Float32Array.from(
            { length: width * height },
            (_, i) => (Math.imul(i + seed + k * 7919, 2654435761) >>> 0) / 2 ** (28 + (i % 9)),
          );
        const planes = { width, height, r: plane(1), g: plane(2), b: plane(3) };
        const weights = plane(4).map((v, i) => (i % 5 ? Math.min(1, v) : 0));
        // Not a colour here and there.
        for (let i = 7; i < width * height; i += 41)
          planes[(['r', 'g', 'b'] as const)[i % 3]!][i] = [Infinity, NaN][i % 2]!;
        const found = boxBlurWeighed(planes, weights, box, times);
        const sound = weights.map((w, i) =>
          [planes.r, planes.g, planes.b].every((p) => Number.isFinite(p[i])) ? w : 0,
        );
        for (const k of ['r', 'g', 'b'] as const) {
          const weighed = planes[k].map((v, i) => (sound[i]! > 0 ? v * sound[i]! : 0));
          expect(found[k]).toEqual(boxBlur(weighed, width, height, box, times));
        }
        expect(found.weights).toEqual(boxBlur(sound, width, height, box, times));
      },
    ),
    { numRuns: runs(40) },
  );
});
