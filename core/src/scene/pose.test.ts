import fc from 'fast-check';
import { compose, identity, multiply, type Matrix } from './pose.ts';

type Vector = readonly [number, number, number];
const number = fc.double({ min: -5, max: 5, noNaN: true });
const vector = fc.tuple(number, number, number);
/** Unit quaternions, by an axis and an angle. */
const turn = fc
  .tuple(vector, fc.double({ min: -3, max: 3, noNaN: true }))
  .filter(([axis]) => Math.hypot(...axis) > 0.1)
  .map(([axis, angle]) => {
    const length = Math.hypot(...axis);
    const [x, y, z] = axis.map((a) => (a / length) * Math.sin(angle / 2)) as [number, number, number];
    return {
      q: [x, y, z, Math.cos(angle / 2)],
      axis: axis.map((a) => a / length) as unknown as Vector,
      angle,
    };
  });
const apply = (m: Matrix, [x, y, z]: Vector): number[] =>
  [0, 1, 2].map((r) => m[r]! * x + m[4 + r]! * y + m[8 + r]! * z + m[12 + r]!);
const near = (a: readonly number[], b: readonly number[]) =>
  a.forEach((v, i) => expect(v).toBeCloseTo(b[i]!, 6));
const cross = (a: Vector, b: Vector): Vector => [
  a[1] * b[2] - a[2] * b[1],
  a[2] * b[0] - a[0] * b[2],
  a[0] * b[1] - a[1] * b[0],
];

test('a quaternion turns as the formula of Rodrigues says', () => {
  fc.assert(
    fc.property(turn, vector, ({ q, axis, angle }, v) => {
      const [c, s] = [Math.cos(angle), Math.sin(angle)];
      const along = axis[0] * v[0] + axis[1] * v[1] + axis[2] * v[2];
      const side = cross(axis, v);
      near(
        apply(compose([0, 0, 0], q, [1, 1, 1]), v),
        v.map((x, i) => x * c + side[i]! * s + axis[i]! * along * (1 - c)),
      );
    }),
  );
});

test('things are scaled, then turned, then moved', () => {
  fc.assert(
    fc.property(vector, turn, vector, vector, (t, { q }, s, v) => {
      const scaled = v.map((x, i) => x * s[i]!) as unknown as Vector;
      const turned = apply(compose([0, 0, 0], q, [1, 1, 1]), scaled);
      near(
        apply(compose(t, q, s), v),
        turned.map((x, i) => x + t[i]!),
      );
    }),
  );
});

test('a product does the right one first, then the left one', () => {
  const matrix = fc.tuple(vector, turn, vector).map(([t, { q }, s]) => compose(t, q, s));
  fc.assert(
    fc.property(matrix, matrix, vector, (a, b, v) => {
      near(apply(multiply(a, b), v), apply(a, apply(b, v) as unknown as Vector));
      near([...multiply(a, identity())], [...a]);
    }),
  );
});
