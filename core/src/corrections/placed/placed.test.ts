import { encode } from 'fast-png';
import fc from 'fast-check';
import { srgbToLinear } from '../../colour/srgb.ts';
import { readFillPictures } from '../../version/fill-picture.ts';
import type { PixelCorrection } from '../correction.ts';
import { correctionOf } from '../registry.ts';
import { fromCorners, placeIn } from './corners.ts';
import { packPicture, pictureKey, sampleFootprint } from './picture-planes.ts';

const laid = correctionOf('place-picture') as PixelCorrection;
type Corners = readonly (readonly [number, number])[];
const WHOLE: Corners = [
  [0, 0],
  [100, 0],
  [100, 100],
  [0, 100],
];
/** A grey picture by its places. */
const grey = (width: number, height: number, of: (x: number, y: number) => number) => {
  const plane = Float32Array.from({ length: width * height }, (_, i) => of(i % width, Math.floor(i / width)));
  return { width, height, r: plane, g: plane, b: plane };
};

/** Lays a picture on an even part all over a small frame. */
function lay(
  picture: ReturnType<typeof grey>,
  alpha: Float32Array | undefined,
  values: Record<string, unknown>,
  [width, height]: [number, number],
  below: (i: number) => number = () => 0.25,
): Float32Array {
  const own = Float32Array.from({ length: width * height }, (_, i) => below(i));
  const frame = { width, height, r: own, g: own, b: own };
  const at = Uint32Array.from({ length: width * height }, (_, i) => i);
  const run = {
    ...{ count: at.length, r: own.slice(), g: own.slice(), b: own.slice() },
    at,
    rendered: frame,
    passes: { [pictureKey('a')]: packPicture(picture, alpha) },
  };
  const all = { picture: { file: 'a', name: 'a.png' }, corners: WHOLE, blend: 'over', shading: 0, ...values };
  const part = { ...run, weight: new Float32Array(at.length).fill(1) };
  laid.apply(run, all as never, laid.measure!(part, all as never));
  return run.g;
}

describe('four corners', () => {
  const place = fc.double({ min: -20, max: 20, noNaN: true });
  test('go to the corners of the picture, and straight lines stay straight', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(place, place), { minLength: 4, maxLength: 4 }), (moved) => {
        const corners = [
          [0, 0],
          [100, 0],
          [100, 100],
          [0, 100],
        ].map(([x, y], i) => [x! + moved[i]![0], y! + moved[i]![1]] as const);
        const m = fromCorners(corners)!;
        const at = (x: number, y: number) => placeIn(m, x, y)!;
        [
          [0, 0],
          [1, 0],
          [1, 1],
          [0, 1],
        ].forEach(([u, v], i) => {
          const [x, y] = at(...corners[i]!);
          expect(x).toBeCloseTo(u!, 6);
          expect(y).toBeCloseTo(v!, 6);
        });
        // Where the diagonals meet is the middle of the picture, whatever the perspective.
        const [[ax, ay], [bx, by], [cx, cy], [dx, dy]] = corners as [
          [number, number],
          [number, number],
          [number, number],
          [number, number],
        ];
        const det = (cx - ax) * (dy - by) - (cy - ay) * (dx - bx);
        const t = ((bx - ax) * (dy - by) - (by - ay) * (dx - bx)) / det;
        const middle = at(ax + t * (cx - ax), ay + t * (cy - ay));
        expect(middle[0]).toBeCloseTo(0.5, 6);
        expect(middle[1]).toBeCloseTo(0.5, 6);
      }),
    );
  });
  test('that no flat picture could have are none', () => {
    expect(
      fromCorners([
        [0, 0],
        [100, 0],
        [0, 100],
        [100, 100],
      ]),
    ).toBeUndefined();
    expect(
      fromCorners([
        [0, 0],
        [0, 0],
        [0, 0],
        [0, 0],
      ]),
    ).toBeUndefined();
  });
});

test('over the whole frame, pixel for pixel, the picture is there as it is', () => {
  const wild = grey(32, 20, (x, y) => ((x * 7 + y * 5) % 11) / 7);
  const out = lay(wild, undefined, {}, [32, 20]);
  out.forEach((v, i) => expect(v).toBeCloseTo(wild.g[i]!, 5));
});

test('a fine pattern seen small is its mean, also at a slant, and does not flicker', () => {
  const stripes = grey(512, 512, (x) => (x % 2 ? 1 : 0));
  for (const corners of [
    WHOLE,
    [
      [30, 5],
      [70, 5],
      [100, 100],
      [0, 100],
    ] as Corners,
  ]) {
    const out = lay(stripes, undefined, { corners }, [40, 40]);
    const [u, v] = [20, 24];
    const inside = Array.from({ length: 36 }, (_, i) => out[(v + Math.floor(i / 6)) * 40 + u - 3 + (i % 6)]!);
    for (const value of inside) expect(value).toBeCloseTo(0.5, 2);
  }
  // At a shallow slant the rows far away are seen under many pixels across, and few down.
  const rows = grey(512, 512, (_, y) => (y < 256 ? 1 : 0));
  const out = new Float64Array(4);
  sampleFootprint(packPicture(rows, undefined), 0.5, 0.25, [0.2, 0], [0, 0.002], out);
  expect(out[1]).toBeCloseTo(1, 5);
});

test('what is transparent lets through, and edges fade', () => {
  const white = grey(16, 16, () => 1);
  const half = new Float32Array(256).fill(0.5);
  lay(white, half, {}, [16, 16]).forEach((v) => expect(v).toBeCloseTo(0.5 * 0.25 + 0.5, 5));
  const corners: Corners = [
    [25.5, 25.5],
    [75, 25.5],
    [75, 75],
    [25.5, 75],
  ];
  const out = lay(white, undefined, { corners }, [100, 100]);
  expect(out[50 * 100 + 10]).toBeCloseTo(0.25, 6);
  expect(out[50 * 100 + 50]).toBeCloseTo(1, 5);
  expect(out[50 * 100 + 25]).toBeGreaterThan(0.3);
  expect(out[50 * 100 + 25]).toBeLessThan(0.95);
});

test('it is multiplied, added, or shaded as the part is', () => {
  const mid = grey(8, 8, () => 0.4);
  const below = (i: number) => (i % 2 ? 0.1 : 0.3);
  const over = (values: Record<string, unknown>) => lay(mid, undefined, values, [8, 8], below);
  expect(over({ blend: 'multiply' })[0]).toBeCloseTo(0.12, 5);
  expect(over({ blend: 'add' })[0]).toBeCloseTo(0.7, 5);
  // The part's mean is 0.2: half of it is half as bright.
  expect(over({ shading: 100 })[1]).toBeCloseTo(0.2, 5);
  expect(over({ shading: 100 })[0]).toBeCloseTo(0.6, 5);
});

test('every mode lays light with its alpha as Porter and Duff do, shaded by the part’s own light and dark', () => {
  const light = fc.double({ min: 0, max: 4, noNaN: true });
  const share = fc.double({ min: 0.01, max: 1, noNaN: true });
  fc.assert(
    fc.property(
      fc.constantFrom('over', 'multiply', 'add'),
      fc.tuple(light, share, fc.integer({ min: 0, max: 100 })),
      fc.tuple(share, light, light),
      (blend, [laidLight, alpha, shading], below) => {
        const own = (i: number) => below[i % 3]!;
        const picture = grey(6, 6, () => laidLight);
        const out = lay(picture, new Float32Array(36).fill(alpha), { blend, shading }, [6, 6], own);
        // White of the shading is the mean of the part: of three values that come equally often.
        const mean = (below[0] + below[1] + below[2]) / 3;
        out.forEach((v, i) => {
          const b = own(i);
          const shade = 1 + (shading / 100) * (b / mean - 1);
          const source = alpha * laidLight;
          const wanted = {
            over: source * shade + b * (1 - alpha),
            multiply: source * b + b * (1 - alpha),
            add: source * shade + b,
          }[blend]!;
          expect(Math.abs(v - wanted)).toBeLessThan(1e-5 * Math.max(1, wanted));
        });
      },
    ),
    { numRuns: 60 },
  );
});

test('a PNG is taken for what sRGB shows, with its alpha', async () => {
  const data = Uint8Array.from([128, 64, 255, 255, 0, 0, 0, 0]);
  const png = encode({ width: 2, height: 1, data, channels: 4, depth: 8 });
  const planes = await readFillPictures([{ file: 'x', name: 'label.png' }], () => Promise.resolve(png));
  const [size, r, g, b, a] = planes[pictureKey('x')]!;
  expect([...size!]).toEqual([2, 1]);
  [r, g, b].forEach((p, k) => expect(p![0]).toBeCloseTo(srgbToLinear([128, 64, 255][k]! / 255), 5));
  expect([...a!]).toEqual([1, 0]);
  await expect(
    readFillPictures([{ file: 'x', name: 'label.png' }], () => Promise.resolve(new Uint8Array(20))),
  ).rejects.toThrow(/label\.png/);
});
