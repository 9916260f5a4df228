import fc from 'fast-check';
import { runs } from '../../test/runs.ts';
import { mixPlain } from '../planes/mixing.ts';
import { mixPlanes } from './mix.ts';

const ODD = [0, -0, 1e-40, 0.25, -1, 3e38, -3e38, Infinity, -Infinity, NaN];
const value = fc.oneof(fc.double({ min: -4, max: 4, noNaN: true }), fc.constantFrom(...ODD));
const colours = (n: number) => {
  const plane = fc.array(value, { minLength: n, maxLength: n }).map((v) => Float32Array.from(v));
  return fc.record({ r: plane, g: plane, b: plane });
};
const PLANES = ['r', 'g', 'b'] as const;

test('the kernel mixes as plain code does, and what is no colour or has no share keeps its bits', () => {
  const sample = fc
    .integer({ min: 1, max: 23 })
    .chain((n) =>
      fc.tuple(
        colours(n),
        colours(n),
        fc.constantFrom(0, 0.3, 1),
        fc.option(fc.array(fc.constantFrom(0, 0.5, 0.99, 1), { minLength: n, maxLength: n })),
      ),
    );
  fc.assert(
    fc.property(sample, ([before, now, amount, shares]) => {
      const of = shares ? Float32Array.from(shares) : undefined;
      const copy = { r: now.r.slice(), g: now.g.slice(), b: now.b.slice() };
      const n = before.r.length;
      mixPlanes(before, now, n, amount, of);
      mixPlain(before, copy, n, amount, of);
      const wrong: unknown[] = [];
      for (const k of PLANES)
        now[k].forEach((v, i) => {
          const plain = copy[k][i]!;
          const share = amount * (of ? of[i]! : 1);
          const finite = PLANES.every((c) => Number.isFinite(before[c][i]));
          const most = 4e-7 * Math.max(Math.abs(before[k][i]!), 4, Math.abs(plain));
          const right =
            share === 0 || share === 1 || !finite ? Object.is(v, plain) : Math.abs(v - plain) <= most;
          if (!right) wrong.push([k, i, v, plain]);
        });
      expect(wrong).toEqual([]);
    }),
    { numRuns: runs(400) },
  );
});

test('only so many pixels are written', () => {
  const plane = (v: number) => new Float32Array(6).fill(v);
  const now = { r: plane(1), g: plane(1), b: plane(1) };
  mixPlanes({ r: plane(0), g: plane(0), b: plane(0) }, now, 5, 0.5);
  expect([...now.g]).toEqual([0.5, 0.5, 0.5, 0.5, 0.5, 1]);
});
