import { converter, oklab, oklch, wcagLuminance } from 'culori';
import fc from 'fast-check';
import { mixPlain } from '../planes/mixing.ts';
import { applyPixelStep, stepsOf } from '../apply/steps.ts';
import { adaptation, whiteOf } from '../colour/white.ts';
import type { FieldValue } from '../fields/field.ts';
import { initialValues, wholeValues } from '../fields/values.ts';
import type { Correction } from './correction.ts';
import { limitOf } from './limit.ts';
import { correctionOf, CORRECTIONS } from './registry.ts';
import { doesNothing, settingsOf } from './shared.ts';

type Rgb = [number, number, number];
const planesOf = (pixels: Rgb[]) => ({
  r: Float32Array.from(pixels, (p) => p[0]),
  g: Float32Array.from(pixels, (p) => p[1]),
  b: Float32Array.from(pixels, (p) => p[2]),
});
/** Pixels through a correction with all that every correction has. */
function through(
  kind: string,
  values: Record<string, FieldValue>,
  pixels: Rgb[],
  passes: Record<string, Float32Array[]> = {},
): Rgb[] {
  const c = correctionOf(kind)!;
  const [step] = stepsOf([{ kind, values: wholeValues(settingsOf(c), values) }], correctionOf, true);
  const planes = planesOf(pixels);
  const source = { width: pixels.length, height: 1, ...planesOf(pixels) };
  const at = Uint32Array.from(pixels.keys());
  applyPixelStep(step!, planes, pixels.length, () => at, source, passes, mixPlain);
  return pixels.map((_, i) => [planes.r[i]!, planes.g[i]!, planes.b[i]!]);
}
const one = (kind: string, values: Record<string, FieldValue>, pixel: Rgb) =>
  through(kind, values, [pixel])[0]!;
const close = (found: Rgb, wanted: readonly number[], digits = 5) =>
  found.forEach((v, k) => expect(v).toBeCloseTo(wanted[k]!, digits));
const lrgb = ([r, g, b]: Rgb) => ({ mode: 'lrgb' as const, r, g, b });
const channel = fc.double({ min: 0.001, max: 3, noNaN: true });
const rgb = fc.tuple(channel, channel, channel);

describe('light', () => {
  test('contrast multiplies stops above and below the pivot', () => {
    fc.assert(
      fc.property(
        fc.double({ min: -4, max: 4, noNaN: true }),
        fc.integer({ min: -100, max: 150 }),
        (stops, by) => {
          const [r] = one('contrast', { contrast: by, pivot: 0.3 }, [0.3 * 2 ** stops, 0.3, 0]);
          expect(Math.log2(r / 0.3)).toBeCloseTo(stops * (1 + by / 100), 3);
        },
      ),
    );
    close(one('contrast', { contrast: 50 }, [0.18, -0.18, 0]), [0.18, -0.18, 0]);
  });
  test('levels bring black and white to what they become, and the middle bends as a gamma', () => {
    const values = { black: 0.1, white: 0.9, middle: 2, toBlack: 0.05, toWhite: 2 };
    close(one('levels', values, [0.1, 0.9, 0.5]), [0.05, 2, 0.05 + 1.95 * Math.sqrt(0.5)], 3);
    // Beyond nothing clips.
    expect(one('levels', { white: 0.5 }, [3, 0, 0])[0]).toBeCloseTo(6, 5);
    // Black and white at the same place are no division by nothing.
    expect(one('levels', { black: 1 }, [0.5, 1, 2]).every(Number.isFinite)).toBe(true);
  });
  test('gamma is a power, mirrored below 0', () =>
    close(one('gamma', { gamma: 2.2 }, [0.5, 1, -0.25]), [0.5 ** (1 / 2.2), 1, -(0.25 ** (1 / 2.2))]));
});

describe('colour', () => {
  test('a colour multiplies channel by channel', () =>
    close(one('multiply', { by: [0.5, 2, 0] }, [0.4, 0.4, 7]), [0.2, 0.8, 0]));

  test.each([
    [2856, 0.4476, 0.4074],
    [4000, 0.3805, 0.3768],
    [6500, 0.3135, 0.3237],
    [10000, 0.2807, 0.2884],
  ])('the light of a body of %i K is the published one', (kelvin, x, y) => {
    const [a, b] = whiteOf(kelvin);
    expect(Math.hypot(a - x, b - y)).toBeLessThan(4e-4);
  });
  test('adapting is Bradford: from D65 to D50 as another library does it', () => {
    const m = adaptation([0.3127, 0.329], [0.3457, 0.3585]);
    const to65 = converter('xyz65');
    const to50 = converter('xyz50');
    fc.assert(
      fc.property(rgb, (v) => {
        const moved = m.map((row) => row[0]! * v[0] + row[1]! * v[1] + row[2]! * v[2]) as Rgb;
        const [a, b] = [to65(lrgb(moved)), to50(lrgb(v))];
        for (const k of ['x', 'y', 'z'] as const) expect(Math.abs(a[k] - b[k])).toBeLessThan(2e-3);
      }),
    );
  });
  test('white balance makes what a warm light makes of grey as grey as daylight does', () => {
    const xyz = ([x, y]: [number, number]) => ({
      mode: 'xyz65' as const,
      x: x / y,
      y: 1,
      z: (1 - x - y) / y,
    });
    const toRgb = converter('lrgb');
    for (const kelvin of [2700, 3400, 5000, 9000]) {
      const lamp = toRgb(xyz(whiteOf(kelvin)));
      const day = toRgb(xyz(whiteOf(6500)));
      const [r, g, b] = one('white-balance', { kelvin }, [lamp.r, lamp.g, lamp.b]);
      expect(r / g).toBeCloseTo(day.r / day.g, 3);
      expect(b / g).toBeCloseTo(day.b / day.g, 3);
    }
    // A light that is said to be warm is cooled; one that is said to be green goes to magenta.
    const [r, , b] = one('white-balance', { kelvin: 3000 }, [0.5, 0.5, 0.5]);
    expect(b).toBeGreaterThan(r);
    const [x, y, z] = one('white-balance', { tint: 50 }, [0.5, 0.5, 0.5]);
    expect((x + z) / 2).toBeGreaterThan(y);
  });
  test('shadows, midtones and highlights: black, middle and white get their own colour', () => {
    const values: Record<string, FieldValue> = {
      shadows: [2, 1, 1],
      midtones: [1, 3, 1],
      highlights: [1, 1, 0.5],
    };
    close(one('three-ranges', values, [1e-6, 1e-6, 1e-6]), [2e-6, 1e-6, 1e-6], 7);
    close(one('three-ranges', values, [1, 1, 1]), [1, 1, 0.5], 4);
    // Half of Oklab's lightness is an eighth of the light.
    close(one('three-ranges', values, [0.125, 0.125, 0.125]), [0.125 * 1.25, 0.125 * 2, 0.125 * 0.875], 4);
  });
  test('slope, offset, power and saturation are those of the ASC', () => {
    const values: Record<string, FieldValue> = {
      slope: [1.2, 0.9, 1],
      offset: [0.05, -0.02, 0],
      power: [1.1, 0.8, 1],
      saturation: 0.5,
    };
    fc.assert(
      fc.property(rgb, ([r, g, b]) => {
        const p = [Math.max(0, r * 1.2 + 0.05) ** 1.1, Math.max(0, g * 0.9 - 0.02) ** 0.8, b];
        fc.pre(g * 0.9 - 0.02 > 0);
        const luma = 0.2126 * p[0]! + 0.7152 * p[1]! + 0.0722 * p[2]!;
        close(
          one('slope-offset-power', values, [r, g, b]),
          p.map((v) => luma + 0.5 * (v - luma)),
          4,
        );
      }),
    );
  });
  test('a tint has the hue of its colour and keeps lightness', () => {
    const colour: Rgb = [0.3, 0.15, 0.05];
    fc.assert(
      fc.property(rgb, (v) => {
        const after = one('tint', { colour, strength: 100 }, v);
        expect(oklab(lrgb(after)).l).toBeCloseTo(oklab(lrgb(v)).l, 3);
        expect(oklch(lrgb(after)).h!).toBeCloseTo(oklch(lrgb(colour)).h!, 0);
      }),
    );
  });
  test('grey is Rec. 709 luminance', () => {
    const v: Rgb = [0.7, 0.2, 0.05];
    const y = wcagLuminance(lrgb(v));
    close(one('grey', { strength: 100 }, v), [y, y, y]);
    close(
      one('grey', { strength: 25 }, v),
      v.map((c) => c + 0.25 * (y - c)),
    );
  });
});

test('a pass multiplies, between its black and white, each channel by its own', () => {
  const values = { pass: 'occlusion', black: 0.2, white: 0.7 };
  const light: Rgb[] = [0.1, 0.2, 0.45, 0.9, NaN].map(() => [1, 2, 4]);
  const plane = Float32Array.of(0.1, 0.2, 0.45, 0.9, NaN);
  const found = through('multiply-by-pass', values, light, { occlusion: [plane] });
  found.forEach((p, i) => close(p, [0, 0, 0.5, 1, 0].map((f) => [f, 2 * f, 4 * f])[i]!));
  const three = [Float32Array.of(1), Float32Array.of(0.5), Float32Array.of(0)];
  close(through('multiply-by-pass', { pass: 'base' }, [[1, 1, 1]], { base: three })[0]!, [1, 0.5, 0]);
});

describe('every correction', () => {
  const pixel = CORRECTIONS.filter((c) => c.works === 'pixel');
  /** Values of a correction, each anywhere within its limits. */
  const anyValues = (c: Correction) =>
    fc.record(
      Object.fromEntries(
        settingsOf(c).map((f) => {
          const [low, high] =
            f.kind === 'number' || f.kind === 'rgb' ? [f.min, f.max] : [0, f.kind === 'colour' ? f.max : 1];
          const value = fc.double({ min: low, max: high, noNaN: true });
          return [
            f.key,
            f.kind === 'number'
              ? value
              : f.kind === 'pass'
                ? fc.constant('occlusion')
                : fc.tuple(value, value, value),
          ];
        }),
      ),
    );
  const any = fc.oneof(
    fc.constantFrom(0, -0, -1, 1e-30, 3.4e38, -3.4e38, 65504),
    fc.double({ min: -2, max: 10, noNaN: true }),
  );

  test.each(pixel.map((c) => [c.kind, c] as const))(
    '%s makes numbers of numbers, whatever its values',
    (kind, c) => {
      fc.assert(
        fc.property(
          fc.array(fc.tuple(any, any, any), { minLength: 1, maxLength: 4 }),
          anyValues(c),
          (pixels, values) => {
            const found = through(kind, values as never, pixels as Rgb[], {
              occlusion: [new Float32Array(4).fill(0.4)],
            });
            for (const p of found) expect([p, p.every((v) => Number.isFinite(v))]).toEqual([p, true]);
          },
        ),
        { numRuns: 200 },
      );
    },
  );
  test.each(pixel.map((c) => [c.kind, c] as const))(
    '%s leaves what is no finite colour as it is',
    (kind, c) => {
      const odd: Rgb[] = [
        [Infinity, 1, 1],
        [0.2, -Infinity, 1],
        [1, 1, NaN],
      ];
      const values = { ...initialValues(c.fields), ...(kind === 'contrast' ? { contrast: 50 } : {}) };
      expect(through(kind, values, odd)).toEqual(odd.map((p) => p.map((v) => Math.fround(v))));
    },
  );
  test('is neutral as it stands, but for what shows something once it is added', () => {
    for (const c of CORRECTIONS) {
      expect([c.kind, doesNothing(c, {})]).toEqual([c.kind, true]);
      const initial = initialValues(c.fields);
      if (Object.keys(initial).length) expect([c.kind, doesNothing(c, initial)]).toEqual([c.kind, false]);
      expect(doesNothing(c, { ...initial, amount: 0 })).toBe(true);
      // Names of its own settings are none of those that all have.
      expect(new Set(settingsOf(c).map((f) => f.key)).size).toBe(settingsOf(c).length);
      expect(c.hint).not.toBe('');
    }
  });
  test('counts as much as its amount says', () => {
    const [r, g, b] = one('exposure', { stops: 1, amount: 25 }, [0.4, 0.8, 0]);
    close([r, g, b], [0.5, 1, 0]);
  });
});

describe('a limit', () => {
  const weigh = (values: Record<string, number>, v: Rgb) => limitOf(values)!(...v);
  const toRgb = converter('lrgb');
  const of = (l: number, c: number, h: number): Rgb => {
    const { r, g, b } = toRgb({ mode: 'oklch', l, c, h });
    return [r, g, b];
  };
  test('is none as long as it says nothing', () => {
    expect(limitOf({})).toBeUndefined();
    expect(limitOf({ limitHue: 40, limitHueSoft: 3 })).toBeUndefined();
    expect(limitOf({ limitHueWidth: 90 })).toBeDefined();
  });
  test('of hue takes a range around the circle, softly', () => {
    const reds = { limitHue: 10, limitHueWidth: 60, limitHueSoft: 20 };
    expect(weigh(reds, of(0.6, 0.15, 350))).toBe(1);
    expect(weigh(reds, of(0.6, 0.15, 39))).toBe(1);
    expect(weigh(reds, of(0.6, 0.15, 50))).toBeCloseTo(0.5, 2);
    expect(weigh(reds, of(0.6, 0.15, 61))).toBe(0);
    expect(weigh(reds, of(0.6, 0.15, 180))).toBe(0);
    // A grey has no hue.
    expect(weigh(reds, [0.3, 0.3, 0.3])).toBeLessThan(0.01);
  });
  test('of saturation and lightness takes what lies between, in light and shadow alike', () => {
    const strong = { limitSaturationFrom: 20, limitSaturationSoft: 10 };
    for (const stops of [-4, 0, 3]) {
      const lit = (v: Rgb) => v.map((c) => c * 2 ** stops) as Rgb;
      expect(weigh(strong, lit(of(0.6, 0.15, 30)))).toBe(1);
      expect(weigh(strong, lit(of(0.6, 0.09, 30)))).toBeCloseTo(0.5, 2);
      expect(weigh(strong, lit(of(0.6, 0.05, 30)))).toBe(0);
    }
    const middle = { limitLightnessFrom: 40, limitLightnessTo: 60, limitLightnessSoft: 10 };
    expect(
      [0.3, 0.35, 0.4, 0.6, 0.65, 0.71].map((l) => Number(weigh(middle, of(l, 0, 0)).toFixed(2))),
    ).toEqual([0, 0.5, 1, 1, 0.5, 0]);
    // What is lighter than white counts as white where the range reaches that far.
    expect(weigh({ limitLightnessFrom: 50 }, [9, 9, 9])).toBe(1);
  });
  test('lets a turn of hue touch the reds only, and goes by the picture as rendered', () => {
    const [red, green] = [of(0.55, 0.15, 25), of(0.55, 0.15, 145)];
    const values = { hue: 120, limitHue: 25, limitHueWidth: 50, limitHueSoft: 10 };
    const [turned, left] = through('hue-saturation-lightness', values, [red, green]);
    expect(oklch(lrgb(turned!)).h!).toBeCloseTo(145, 0);
    expect(left).toEqual(green.map((v) => Math.fround(v)));
  });
});
