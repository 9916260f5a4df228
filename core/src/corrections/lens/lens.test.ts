import fc from 'fast-check';
import { KernelLens } from '../../kernels/lens.ts';
import { apertures } from '../../planes/aperture.ts';
import type { Area } from '../../planes/area.ts';
import { PlainLens, type Focus, type Lens, type LensWindow } from '../../planes/lens.ts';
import { layFromFront } from './lay-from-front.ts';

/** A small picture: every depth, light that is not even finite, and a mask with a soft edge. */
interface Small {
  width: number;
  height: number;
  seed: number;
}
const noise = (seed: number, i: number) =>
  ((Math.imul(i + 1, 2654435761) ^ Math.imul(seed, 40503)) >>> 8) / 2 ** 24;
const lightAt = (seed: number, i: number) => {
  const v = noise(seed, i);
  return v > 0.995 ? Infinity : v > 0.99 ? 3e5 : v > 0.98 ? -0.3 : v ** 3;
};
const depthAt = (seed: number, x: number, y: number) => {
  const v = noise(seed, Math.floor(x / 9) * 31 + Math.floor(y / 7));
  return v > 0.95 ? Infinity : v > 0.9 ? NaN : 0.3 + 6 * v + x / 90;
};

/** A window of the picture; beyond its border its last pixels repeat. */
function windowOf({ width, height, seed }: Small, area: Area, margin: number): LensWindow {
  const wide = area.x1 - area.x0 + 2 * margin;
  const high = area.y1 - area.y0 + 2 * margin;
  const plane = (of: (x: number, y: number) => number) =>
    Float32Array.from({ length: wide * high }, (_, i) =>
      of(
        Math.min(width - 1, Math.max(0, area.x0 - margin + (i % wide))),
        Math.min(height - 1, Math.max(0, area.y0 - margin + Math.floor(i / wide))),
      ),
    );
  const colour = (k: number) => plane((x, y) => lightAt(seed + k, y * width + x));
  return {
    planes: { width: wide, height: high, r: colour(1), g: colour(2), b: colour(3) },
    weights: plane((x, y) => Math.min(1, Math.max(0, (x + y - 6) / 5 - noise(seed, y) / 3))),
    depth: plane((x, y) => depthAt(seed, x, y)),
    area,
    margin,
  };
}
const marginOf = ({ most, apertures: list }: Focus) => list.find((a) => a.circle >= most)!.reach;

function seen(lens: Lens, picture: Small, area: Area, focus: Focus, more = 0): Float32Array[] {
  const [width, height] = [area.x1 - area.x0, area.y1 - area.y0];
  const out = { width, height, ...planesOf(width * height) };
  layFromFront(lens, windowOf(picture, area, marginOf(focus) + more), focus, out);
  return [out.r, out.g, out.b];
}
const planesOf = (n: number) => ({ r: new Float32Array(n), g: new Float32Array(n), b: new Float32Array(n) });

const picture = fc.record({
  width: fc.integer({ min: 8, max: 60 }),
  height: fc.integer({ min: 8, max: 50 }),
  seed: fc.integer({ min: 1, max: 1e6 }),
});
const focusOf = (largest: number) =>
  fc.record({
    at: fc.double({ min: 0.5, max: 6, noNaN: true }),
    size: fc.double({ min: 0.2, max: largest, noNaN: true }),
    most: fc.integer({ min: 1, max: largest }),
    apertures: fc.constantFrom(0, 5, 6, 8).map(apertures),
  });
/** A part of a picture, by shares. */
const part = fc.tuple(fc.nat(99), fc.nat(99), fc.nat(99), fc.nat(99));
const areaIn = ({ width, height }: Small, [a, b, c, d]: readonly number[]): Area => {
  const between = (n: number, u: number, v: number): [number, number] => {
    const [from, to] = [Math.floor((n * Math.min(u, v)) / 100), Math.floor((n * Math.max(u, v)) / 100)];
    return [from, to + 1];
  };
  const [x0, x1] = between(width, a!, b!);
  const [y0, y1] = between(height, c!, d!);
  return { x0, y0, x1, y1 };
};

test('the kernel gives what plain code gives, bit for bit', () => {
  const [plain, kernel] = [new PlainLens(), new KernelLens()];
  fc.assert(
    fc.property(picture, part, focusOf(24), (small, shares, focus) => {
      const area = areaIn(small, shares);
      expect(seen(kernel, small, area, focus)).toEqual(seen(plain, small, area, focus));
    }),
    { numRuns: 25 },
  );
});

test('any part of a picture, seen through any window, has the bits that the whole has', () => {
  const lens = new KernelLens();
  fc.assert(
    fc.property(picture, part, focusOf(60), fc.nat(9), (small, shares, focus, more) => {
      const { width, height } = small;
      const all = seen(lens, small, { x0: 0, y0: 0, x1: width, y1: height }, focus);
      const area = areaIn(small, shares);
      seen(lens, small, area, focus, more).forEach((plane, k) =>
        plane.forEach((v, i) => {
          const x = area.x0 + (i % (area.x1 - area.x0));
          const y = area.y0 + Math.floor(i / (area.x1 - area.x0));
          expect(v).toBe(all[k]![y * width + x]!);
        }),
      );
    }),
    { numRuns: 40 },
  );
});

test('a limit that is not reached changes no bit', () => {
  const lens = new KernelLens();
  const small = { width: 60, height: 50, seed: 7 };
  const area = { x0: 0, y0: 0, x1: 60, y1: 50 };
  const list = apertures(0);
  // Nothing is nearer than .3: 4 · (1 / .3 - 1) is below 10.
  const by = (most: number) => seen(lens, small, area, { at: 1, size: 4, most, apertures: list });
  expect(by(20)).toEqual(by(10));
  expect(by(60)).toEqual(by(10));
});
