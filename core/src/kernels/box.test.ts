import fc from 'fast-check';
import { runs } from '../../test/runs.ts';
import { boxBlur, boxOfVariance, boxReach } from '../planes/box-blur.ts';
import { boxBlurFour } from './box.ts';

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
        const planes = [plane(1), plane(2), plane(3), plane(4)] as const;
        const found = boxBlurFour(planes, width, height, box, times);
        planes.forEach((p, k) => expect(found[k]).toEqual(boxBlur(p, width, height, box, times)));
      },
    ),
    { numRuns: runs(40) },
  );
});
