import { filterOffsets, filterRadius, PIXEL_FILTERS, type PixelFilter } from './pixel-filter.ts';

/** Shapes as published, over the distance in pixels from the centre; nothing outside the radius. */
const SHAPES: Record<PixelFilter, (d: number) => number> = {
  box: () => 1,
  triangle: (d) => 1 - d,
  // Lowered so that it ends at nothing.
  gaussian: (d) => Math.exp(-2 * d * d) - Math.exp(-4.5),
  // Harris, "On the use of windows for harmonic analysis", 1978: four terms, -92 dB.
  'blackman-harris': (d) => {
    const t = 0.5 + d / 3.3;
    const turn = (k: number) => Math.cos(2 * Math.PI * k * t);
    return 0.35875 - 0.48829 * turn(1) + 0.14128 * turn(2) - 0.01168 * turn(3);
  },
};

/** Share of a filter that lies left of x, by the trapezoid rule. */
function shareLeftOf(filter: PixelFilter, x: number): number {
  const radius = filterRadius(filter);
  const integral = (to: number) => {
    const steps = 4000;
    const width = (to + radius) / steps;
    let sum = 0;
    for (let i = 0; i <= steps; i++)
      sum += SHAPES[filter](Math.abs(-radius + i * width)) * (i === 0 || i === steps ? 0.5 : 1);
    return sum * width;
  };
  return integral(x) / integral(radius);
}

describe.each(PIXEL_FILTERS)('the %s filter', (filter) => {
  const offset = filterOffsets(filter);
  const radius = filterRadius(filter);

  test('spreads samples like its shape', () => {
    for (let u = 0.02; u < 1; u += 0.02) expect(shareLeftOf(filter, offset(u))).toBeCloseTo(u, 3);
  });

  test('is symmetric, rises, and stays within its radius', () => {
    let last = -Infinity;
    for (let i = 0; i <= 1000; i++) {
      const x = offset(i / 1000);
      expect(x).toBeGreaterThanOrEqual(last);
      expect(Math.abs(x)).toBeLessThanOrEqual(radius + 1e-9);
      expect(x).toBeCloseTo(-offset(1 - i / 1000), 3);
      last = x;
    }
  });
});
