import fc from 'fast-check';
import { linearToSrgb } from '../colour/srgb.ts';
import { tileKernel } from '../kernels/tile.ts';
import { lookUp, parseCube } from './cube.ts';
import { shownColour, showTile, type DisplayUse } from './show.ts';
import { DISPLAY_TRANSFORMS } from './transforms.ts';

const curve = (name: string) => DISPLAY_TRANSFORMS.find((t) => t.name === name)!.curve;
/** A table of three dimensions by a function of what it takes. */
const cube = (size: number, of: (v: number[]) => number[], more = '') => {
  const lines: string[] = [];
  for (let b = 0; b < size; b++)
    for (let g = 0; g < size; g++)
      for (let r = 0; r < size; r++) lines.push(of([r, g, b].map((v) => v / (size - 1))).join(' '));
  return `TITLE "Amber"\n${more}LUT_3D_SIZE ${size}\n${lines.join('\n')}\n`;
};
const MIX = ([r, g, b]: number[]) => [0.1 + 0.5 * r! + 0.2 * g!, 0.9 * g!, 0.8 * b! + 0.1 * r!];

describe('display transforms', () => {
  test('are what their sources say', () => {
    expect(curve('srgb')(0.18)).toBeCloseTo(0.4614, 4);
    // BT.1886 with a black of 0: the screen raises to 2.4.
    for (const v of [0.01, 0.18, 0.7]) expect(curve('rec709')(v) ** 2.4).toBeCloseTo(v, 6);
    expect(curve('raw')(0.3)).toBe(0.3);
  });

  test('soft highlights keep what is dark, rise always, and never reach beyond white', () => {
    fc.assert(
      fc.property(
        fc.double({ min: 0, max: 16, noNaN: true }),
        fc.double({ min: 0.01, max: 1, noNaN: true }),
        (v, d) => {
          expect(curve('soft')(v + d)).toBeGreaterThanOrEqual(curve('soft')(v));
          expect(curve('soft')(v)).toBeLessThanOrEqual(1);
          if (v < 0.5) expect(curve('soft')(v)).toBeCloseTo(linearToSrgb(v), 9);
        },
      ),
    );
    // Twice and four times white are still told apart.
    expect(255 * (curve('soft')(2) - curve('soft')(1))).toBeGreaterThan(5);
  });

  test('the tile kernel shows what the formula says, with exposure, gamma and tables', () => {
    const table = { ...parseCube(cube(5, MIX)), takes: 'srgb' as const };
    const uses: DisplayUse[] = DISPLAY_TRANSFORMS.flatMap(({ name }) => [
      { stops: 0, gamma: 1, transform: name },
      { stops: -1.5, gamma: 1.3, transform: name },
    ]);
    const kernel = tileKernel();
    for (const use of [...uses, { stops: 1, gamma: 1, transform: 'srgb', table }]) {
      const values = Float32Array.from({ length: 4096 }, (_, i) =>
        i < 8 ? -1 : (Math.max(i, 90) / 1500) ** 3,
      );
      kernel.r.set(values);
      kernel.g.set(values.map((v) => v / 3));
      kernel.b.set(values.map((v) => v * 2));
      const own = [...values].map((v) => [v, v / 3, v * 2] as const);
      const colours = own.map((c) => shownColour(c, use));
      showTile(kernel, use);
      let worst = 0;
      colours.forEach((c, i) => {
        // Darker than 2^-14 all is black.
        for (let k = 0; k < 3; k++)
          if (own[i]![k]! < 0 || own[i]![k]! * 2 ** use.stops > 1.3e-4)
            worst = Math.max(worst, Math.abs(kernel.bytes[4 * i + k]! - 255 * c[k]!));
      });
      // A step of a thousandth, where the curve is steepest.
      expect(worst).toBeLessThan(use.transform === 'raw' || use.gamma === 1 ? 1.01 : 2.5);
    }
  });
});

describe('.cube files', () => {
  const look = (text: string, v: readonly [number, number, number]) => {
    const out = new Float32Array(3);
    lookUp(parseCube(text), ...v, out);
    return [...out];
  };

  test('look between their entries linearly: a table of a linear function is that function', () => {
    const text = cube(4, MIX);
    fc.assert(
      fc.property(fc.tuple(...[0, 1, 2].map(() => fc.double({ min: 0, max: 1, noNaN: true }))), (v) => {
        const found = look(text, v as [number, number, number]);
        MIX(v).forEach((m, k) => expect(found[k]).toBeCloseTo(m, 5));
      }),
      { numRuns: 40 },
    );
    const one = `# by hand\r\nLUT_1D_SIZE 3\r\n0 0.1 0\r\n0.3 0.5 0.9\r\n1 0.7 1\r\n`;
    const found = look(one, [0.25, 0.75, 0.5]);
    [0.15, 0.6, 0.9].forEach((v, k) => expect(found[k]).toBeCloseTo(v, 6));
  });

  test('hold their values at the ends, and know their domain', () => {
    const text = cube(3, (v) => v, 'DOMAIN_MIN 0 0 0\nDOMAIN_MAX 2 2 2\n');
    expect(look(text, [1, 2, 9])).toEqual([0.5, 1, 1]);
    expect(look(text, [-1, 0, NaN])).toEqual([0, 0, 0]);
  });

  test.each([
    ['LUT_3D_SIZE 2\n0 0 0\n', /should have 8 lines, but has 1/],
    ['LUT_1D_SIZE 2\n0 0 0\n1 1 1\n2 2 2\n', /Line 4 is one more than its table should have/],
    ['0 0 0\n', /does not say how large/],
    ['LUT_1D_SIZE 2\n0 0 x\n1 1 1\n', /Line 2 must hold three numbers/],
    ['LUT_1D_SIZE 1\n0 0 0\n', /size from 2/],
    ['LUT_1D_SIZE 2\nDOMAIN_MIN 1 1 1\n0 0 0\n1 1 1\n', /below DOMAIN_MAX/],
  ])('%j is refused with its reason', (text, reason) => expect(() => parseCube(text)).toThrow(reason));
});
