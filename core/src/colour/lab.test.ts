import { differenceCiede2000, lab65 } from 'culori';
import fc from 'fast-check';
import { deltaE, rgbToLab, type Lab } from './lab.ts';

test('L*a*b* agrees with an independent library', () => {
  const channel = fc.double({ min: 0, max: 3, noNaN: true });
  fc.assert(
    fc.property(channel, channel, channel, (r, g, b) => {
      const other = lab65({ mode: 'lrgb', r, g, b });
      const own = rgbToLab(r, g, b);
      [other.l, other.a, other.b].forEach((v, k) => expect(own[k]).toBeCloseTo(v, 2));
    }),
  );
});

// Sharma, Wu and Dalal 2005, table 1: those that tell a wrong turn at each branch of the formula.
test.each<[Lab, Lab, number]>([
  [[50, 2.6772, -79.7751], [50, 0, -82.7485], 2.0425],
  [[50, 0, 0], [50, -1, 2], 2.3669],
  [[50, 2.49, -0.001], [50, -2.49, 0.0009], 7.1792],
  [[50, 2.49, -0.001], [50, -2.49, 0.0011], 7.2195],
  [[50, -0.001, 2.49], [50, 0.0009, -2.49], 4.8045],
  [[50, -0.001, 2.49], [50, 0.0011, -2.49], 4.7461],
  [[50, 2.5, 0], [61, -5, 29], 22.8977],
  [[60.2574, -34.0099, 36.2677], [60.4626, -34.1751, 39.4387], 1.2644],
  [[22.7233, 20.0904, -46.694], [23.0331, 14.973, -42.5619], 2.0373],
  [[2.0776, 0.0795, -1.135], [0.9033, -0.0636, -0.5514], 0.9082],
])('ΔE2000 of %p and %p is %f', (a, b, wanted) => {
  expect(deltaE(a, b)).toBeCloseTo(wanted, 4);
  expect(deltaE(b, a)).toBeCloseTo(wanted, 4);
});

test('ΔE2000 agrees with an independent library', () => {
  const other = differenceCiede2000();
  const lab = fc.tuple(
    fc.double({ min: 0, max: 100, noNaN: true }),
    fc.double({ min: -110, max: 110, noNaN: true }),
    fc.double({ min: -110, max: 110, noNaN: true }),
  );
  const named = ([l, a, b]: Lab) => ({ mode: 'lab65' as const, l, a, b });
  fc.assert(
    fc.property(lab, lab, (a, b) => {
      // Where hues are opposite the formula itself leaps, and a rounding decides.
      const hue = ([, x, y]: Lab) => (Math.atan2(y, x) * 180) / Math.PI;
      const apart = Math.abs(hue(a) - hue(b));
      fc.pre(Math.abs(apart - 180) > 2 && Math.hypot(a[1], a[2]) > 0.1 && Math.hypot(b[1], b[2]) > 0.1);
      expect(deltaE(a, b)).toBeCloseTo(other(named(a), named(b)), 2);
    }),
  );
});
