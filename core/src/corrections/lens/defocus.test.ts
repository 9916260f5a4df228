import { whole } from '../../../test/fixtures/whole-area.ts';

const [WIDTH, HEIGHT] = [160, 120];
const [MIDDLE_X, MIDDLE_Y] = [80, 60];
const everywhere = () => 1;
const depthOf = (of: (x: number, y: number) => number, width = WIDTH, height = HEIGHT) => ({
  depth: [Float32Array.from({ length: width * height }, (_, i) => of(i % width, Math.floor(i / width)))],
});
const lens = { pass: 'depth', focus: 2, size: 20, most: 60, blades: '0' };
type Picture = (x: number, y: number) => number;
const seen = (
  light: Picture,
  depth: Picture,
  values: Partial<typeof lens> = {},
  mask: Picture = everywhere,
): ReturnType<typeof whole> =>
  whole('defocus', { ...lens, ...values }, WIDTH, HEIGHT, light, mask, depthOf(depth));

/** Depth at which the circle of confusion has so many pixels: behind what is sharp, or in front of it (thin lens). */
const behind = (circle: number, { size, focus } = lens) => focus / (1 - circle / size);
const inFront = (circle: number, { size, focus } = lens) => focus / (1 + circle / size);

const point: Picture = (x, y) => (x === MIDDLE_X && y === MIDDLE_Y ? 1000 : 0);
const radiusAt = (i: number) => Math.hypot((i % WIDTH) - MIDDLE_X, Math.floor(i / WIDTH) - MIDDLE_Y);
const total = (plane: Float32Array) => plane.reduce((sum, v) => sum + v, 0);

describe('a point', () => {
  describe.each([4, 6, 11.3, 17.5])('with a circle of %d px', (circle) => {
    test.each([20, 60])('lights its disc evenly and keeps its energy, whatever the limit (%d px)', (most) => {
      const { out } = seen(point, () => behind(circle), { most });
      const all = total(out);
      expect(all / 1000).toBeCloseTo(1, 3);
      const even = 1000 / (Math.PI * circle ** 2);
      // Large discs are made of cells of 2x2 pixels: their rim is softer.
      const rim = circle > 16 ? 4 : 2.5;
      const [inside, lit, outside] = [[] as number[], [] as number[], [] as number[]];
      out.forEach((v, i) => {
        if (radiusAt(i) < circle - rim) inside.push(Math.abs(v / even - 1));
        if (radiusAt(i) < circle) lit.push(v);
        if (radiusAt(i) > circle + rim) outside.push(v);
      });
      expect(Math.max(0, ...inside)).toBeLessThan(circle < 6 ? 0.22 : 0.12);
      expect(lit.filter((v) => v > 0.2 * even).length / lit.length).toBeGreaterThan(0.95);
      expect(Math.max(...out)).toBeLessThan(1.25 * even);
      expect(Math.max(0, ...outside)).toBe(0);
      // An even disc has a mean square distance of half its radius squared.
      const spread = out.reduce((sum, v, i) => sum + (v / all) * radiusAt(i) ** 2, 0);
      expect(Math.sqrt(2 * spread) / circle).toBeCloseTo(1, 1);
    });
  });

  test('in front of what is sharp is as large', () => {
    const near = seen(point, () => inFront(9)).out;
    const far = seen(point, () => behind(9)).out;
    expect(Math.max(...near.map((v, i) => Math.abs(v - far[i]!)))).toBeLessThan(1e-3);
  });

  test('grows without a jump when the focus is pulled', () => {
    let before = seen(point, () => behind(8)).out;
    for (let circle = 8.4; circle < 19; circle += 0.4) {
      const { out } = seen(point, () => behind(circle));
      const moved = out.reduce((sum, v, i) => sum + Math.abs(v - before[i]!), 0) / 1000;
      // An even disc that grows by a step d moves 4 d / radius of its light: out of the disc, and into the ring.
      expect(moved).toBeLessThan((3 * (4 * 0.4)) / circle);
      before = out;
    }
  });

  test('keeps its energy where depth slopes', () => {
    for (const slope of [0.01, 0.03]) {
      const { out } = seen(point, (x) => behind(8 + (x - MIDDLE_X) * slope * 2));
      expect(Math.abs(total(out) / 1000 - 1)).toBeLessThan(0.002);
    }
  });

  test.each([5, 6, 8])('behind a lens of %d blades is the polygon', (blades) => {
    const circle = 15;
    const { out } = seen(point, () => behind(circle), { blades: String(blades) });
    const side = (2 * Math.PI) / blades;
    const area = (blades / 2) * circle ** 2 * Math.sin(side);
    const even = 1000 / area;
    expect(total(out) / 1000).toBeCloseTo(1, 3);
    expect(out.filter((v) => v > even / 2).length / area).toBeCloseTo(1, 1);
    const [inside, outside] = [[0], [0]];
    out.forEach((v, i) => {
      // Within the circle that touches its sides, and beyond that through its corners.
      if (radiusAt(i) < circle * Math.cos(side / 2) - 2.5) inside.push(Math.abs(v / even - 1));
      if (radiusAt(i) > circle + 2.5) outside.push(v);
    });
    expect(Math.max(...inside)).toBeLessThan(0.12);
    expect(Math.max(...outside)).toBe(0);
  });
});

/** Share of a disc of radius r that lies on the far side of a line x away from its middle (area of a circular segment). */
const beyond = (x: number, r: number) => {
  const u = Math.max(-1, Math.min(1, x / r));
  return (Math.acos(u) - u * Math.sqrt(1 - u * u)) / Math.PI;
};

describe('an edge', () => {
  const step: Picture = (x) => (x < MIDDLE_X ? 1 : 0.1);
  const wanted = (x: number, circle: number) => 0.1 + 0.9 * beyond(x + 0.5 - MIDDLE_X, circle);
  test.each([3, 8, 14, 30])('on one thing out of focus is that of a disc, %d px', (circle) => {
    const values = { size: 40 };
    const { at } = seen(step, () => behind(circle, { ...lens, ...values }), values);
    for (let x = 20; x < 140; x++)
      expect(Math.abs(at(x, 60) - wanted(x, circle))).toBeLessThan(circle < 5 ? 0.035 : 0.025);
  });
  test.each([5, 9, 15])(
    'of a thing out of focus covers what is sharp behind it as softly, on both sides, %d px',
    (circle) => {
      const { at } = seen(step, (x) => (x < MIDDLE_X ? inFront(circle) : lens.focus));
      for (let x = 20; x < 140; x++) expect(Math.abs(at(x, 60) - wanted(x, circle))).toBeLessThan(0.05);
    },
  );
  test('of a sharp thing stays: it does not spread over what is blurred behind it, nor that over it', () => {
    const { at } = seen(
      (x) => (x < MIDDLE_X ? 5 : 0.1),
      (x) => (x < MIDDLE_X ? lens.focus : 100),
    );
    for (let x = 60; x < 80; x++) expect(at(x, 60)).toBe(5);
    for (let x = 80; x < 100; x++) expect(at(x, 60)).toBeCloseTo(0.1, 6);
  });
});

test('what is in focus keeps its bits; what is even stays even, up to the border, at any depth', () => {
  const wild: Picture = (x, y) => ((x * 7 + y * 13) % 5) / 4;
  const sharp = seen(wild, () => lens.focus);
  const even = seen(
    () => 0.3,
    (x, y) => 0.5 + ((x * 11 + y * 5) % 37) / 6,
  );
  expect(sharp.out).toEqual(sharp.out.map((_, i) => wild(i % WIDTH, Math.floor(i / WIDTH))));
  expect(Math.max(...even.out.map((v) => Math.abs(v - 0.3)))).toBeLessThan(1e-5);
});

test('what the mask does not cover gives nothing', () => {
  const { at } = seen(
    (x) => (x < MIDDLE_X ? 7 : 0.1),
    () => 50,
    {},
    (x) => (x < MIDDLE_X ? 0 : 1),
  );
  for (let x = 80; x < 110; x++) expect(at(x, 60)).toBeCloseTo(0.1, 6);
  expect(at(79, 60)).toBe(7);
});
