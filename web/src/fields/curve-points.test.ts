import fc from 'fast-check';
import type { PointsValue } from '@zesty-crow/core/fields';
import { nearPoint, withMoved, withoutPoint, withPoint } from './curve-points.ts';

test('points that are added, moved and taken away stay in order, apart, and within reach', () => {
  const place = fc.tuple(
    fc.double({ min: -0.5, max: 1.5, noNaN: true }),
    fc.double({ min: -99, max: 99, noNaN: true }),
  );
  fc.assert(
    fc.property(fc.array(fc.tuple(fc.nat(2), fc.nat(7), place), { maxLength: 30 }), (steps) => {
      let points: PointsValue = [];
      for (const [what, which, [x, y]] of steps) {
        const at = points.length ? which % points.length : 0;
        if (
          what === 0 &&
          points.length < 8 &&
          x >= 0 &&
          x <= 1 &&
          !points.some((p) => Math.abs(p[0] - x) < 0.02)
        )
          points = withPoint(points, [x, Math.max(-50, Math.min(50, y))]).points;
        else if (what === 0 && points.length === 0 && x >= 0 && x <= 1)
          points = withPoint(points, [x, Math.max(-50, Math.min(50, y))]).points;
        else if (what === 1 && points.length) points = withMoved(points, at, [x, y], 50);
        else if (what === 2) points = withoutPoint(points, at);
        points.forEach(([px, py], i) => {
          expect(px >= 0 && px <= 1 && Math.abs(py) <= 50).toBe(true);
          if (i > 0) expect(px).toBeGreaterThan(points[i - 1]![0]);
        });
      }
    }),
  );
});

test('the first point moves only what is near it', () => {
  const { points, at } = withPoint([], [0.5, 30]);
  expect(points).toEqual([
    [0.36, 0],
    [0.5, 30],
    [0.64, 0],
  ]);
  expect(at).toBe(1);
  expect(withPoint([], [0.05, 30])).toEqual({
    points: [
      [0.05, 30],
      [0.19, 0],
    ],
    at: 0,
  });
});

test('a point is met near it, and the nearer of two', () => {
  const points: PointsValue = [
    [0.2, 0],
    [0.25, 10],
  ];
  expect(nearPoint(points, [0.21, 1], 50)).toBe(0);
  expect(nearPoint(points, [0.245, 9], 50)).toBe(1);
  expect(nearPoint(points, [0.5, 0], 50)).toBeUndefined();
  expect(nearPoint([], [0.5, 0], 50)).toBeUndefined();
});
