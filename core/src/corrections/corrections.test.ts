import { wholeValues } from '../fields/values.ts';
import { oklch } from 'culori';
import fc from 'fast-check';
import { runs } from '../../test/runs.ts';
import { linearToSrgb, srgbToLinear, displayByte } from '../colour/srgb.ts';
import { oklabToRgb, rgbToOklab, type Triple } from '../colour/oklab.ts';
import { correctionOf, CORRECTIONS } from './registry.ts';
import type { PixelRun } from './correction.ts';

const channel = fc.double({ min: 0, max: 4, noNaN: true });
const pixel = (r: number, g: number, b: number): PixelRun => ({
  count: 1,
  r: Float32Array.of(r),
  g: Float32Array.of(g),
  b: Float32Array.of(b),
  at: Uint32Array.of(0),
  rendered: { width: 1, height: 1, r: Float32Array.of(r), g: Float32Array.of(g), b: Float32Array.of(b) },
  passes: {},
});
const run = (kind: string, rgb: Triple, values: Record<string, number>): Triple => {
  const p = pixel(...rgb);
  const c = correctionOf(kind)!;
  if (c.works === 'pixel') c.apply(p, wholeValues(c.fields, values));
  return [p.r[0]!, p.g[0]!, p.b[0]!];
};
const HSL = 'hue-saturation-lightness';
/** Oklch by an independent library, from scene-linear values. */
const reference = ([r, g, b]: Triple) => oklch({ mode: 'lrgb', r, g, b });

describe('colour', () => {
  test('Oklab agrees with an independent library and turns back', () => {
    fc.assert(
      fc.property(channel, channel, channel, (r, g, b) => {
        const lab: Triple = [0, 0, 0];
        const back: Triple = [0, 0, 0];
        rgbToOklab(r, g, b, lab);
        const other = reference([r, g, b]);
        expect(lab[0]).toBeCloseTo(other.l, 5);
        expect(Math.hypot(lab[1], lab[2])).toBeCloseTo(other.c, 5);
        oklabToRgb(...lab, back);
        expect(back[0]).toBeCloseTo(r, 4);
        expect(back[1]).toBeCloseTo(g, 4);
        expect(back[2]).toBeCloseTo(b, 4);
      }),
    );
  });

  test('the sRGB curve meets its published values and turns back', () => {
    expect(linearToSrgb(0.0031308)).toBeCloseTo(0.04045, 5);
    expect(linearToSrgb(0.2140411)).toBeCloseTo(0.5, 6);
    expect(linearToSrgb(1)).toBeCloseTo(1, 12);
    fc.assert(fc.property(channel, (v) => expect(srgbToLinear(linearToSrgb(v))).toBeCloseTo(v, 9)));
  });

  test('the display table is within a hundredth of the formula', () => {
    fc.assert(
      fc.property(fc.double({ min: 0, max: 1, noNaN: true }), (v) =>
        expect(Math.abs(displayByte(v) - 255 * linearToSrgb(v))).toBeLessThan(0.01),
      ),
      { numRuns: runs(5000) },
    );
    expect(displayByte(NaN)).toBe(0);
    expect(displayByte(-1)).toBe(0);
    expect(displayByte(Infinity)).toBe(255);
  });
});

describe('exposure', () => {
  test('a stop doubles the light', () => {
    expect(run('exposure', [0.25, 0.5, 1.5], { stops: 1 })).toEqual([0.5, 1, 3]);
    expect(run('exposure', [0.25, 0.5, 1.5], { stops: -2 })).toEqual([0.0625, 0.125, 0.375]);
  });
});

describe('hue, saturation, lightness', () => {
  test('hue turns by the angle and keeps lightness; chroma only shrinks where the colour would leave the range', () => {
    fc.assert(
      fc.property(channel, channel, channel, fc.integer({ min: -180, max: 180 }), (r, g, b, hue) => {
        const before = reference([r, g, b]);
        fc.pre(before.c > 0.02 && before.l > 0.05);
        const after = run(HSL, [r, g, b], { hue });
        const now = reference(after);
        expect(now.l).toBeCloseTo(before.l, 3);
        expect(now.c).toBeLessThan(before.c + 1e-3);
        if (now.c > 0.02) {
          const turned = ((((now.h! - before.h! - hue) % 360) + 540) % 360) - 180;
          expect(Math.abs(turned)).toBeLessThan(1);
        }
        expect(Math.min(...after)).toBeGreaterThan(-1e-4);
      }),
    );
  });
  test('without saturation all channels are equal', () => {
    const [r, g, b] = run(HSL, [0.8, 0.2, 0.1], { saturation: -100 });
    expect(g).toBeCloseTo(r, 4);
    expect(b).toBeCloseTo(r, 4);
  });
  test('saturation scales chroma, lightness scales lightness down to black', () => {
    const before = reference([0.4, 0.3, 0.25]);
    expect(reference(run(HSL, [0.4, 0.3, 0.25], { saturation: 50 })).c).toBeCloseTo(before.c * 1.5, 4);
    expect(reference(run(HSL, [0.4, 0.3, 0.25], { lightness: 20 })).l).toBeCloseTo(before.l * 1.2, 4);
    expect(run(HSL, [0.4, 0.3, 0.25], { lightness: -100 }).every((v) => Math.abs(v) < 1e-6)).toBe(true);
  });
  test('values that were negative before are not made worse', () => {
    const after = run(HSL, [-0.02, 0.3, 0.25], { hue: 40 });
    expect(Math.min(...after)).toBeGreaterThanOrEqual(-0.0201);
  });
});

test('every correction at its neutral values changes nothing that a half can hold', () => {
  for (const c of CORRECTIONS) {
    const after = run(c.kind, [0.7, 0.3, 0.1], {});
    expect(after[0]).toBeCloseTo(0.7, 5);
    expect(after[1]).toBeCloseTo(0.3, 5);
    expect(after[2]).toBeCloseTo(0.1, 5);
  }
});
