import { converter, differenceCiede2000, oklab, oklch, wcagLuminance } from 'culori';
import fc from 'fast-check';
import { runs } from '../../test/runs.ts';
import { mixPlain } from '../planes/mixing.ts';
import { applyPixelStep, stepsOf } from '../apply/steps.ts';
import { cieDaylight, blackBody } from '../../test/fixtures/lights.ts';
import { adaptation, lightOf } from '../colour/white.ts';
import type { FieldValue } from '../fields/field.ts';
import { initialValues, wholeValues } from '../fields/values.ts';
import type { Correction, PixelCorrection } from './correction.ts';
import { limitOf } from './limit.ts';
import { correctionOf, CORRECTIONS } from './registry.ts';
import { lightOfGrey } from './white-balance.ts';
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
    close(one('contrast', { contrast: 50 }, [0.18, 0, 0]), [0.18, 0, 0]);
  });
  test('levels bring black and white to what they become, and the middle bends as a gamma', () => {
    const values = { black: 0.1, white: 0.9, middle: 2, toBlack: 0.05, toWhite: 2 };
    close(one('levels', values, [0.1, 0.9, 0.5]), [0.05, 2, 0.05 + 1.95 * Math.sqrt(0.5)], 3);
    // Beyond nothing clips.
    expect(one('levels', { white: 0.5 }, [3, 0, 0])[0]).toBeCloseTo(6, 5);
    // Black and white at the same place are no division by nothing.
    expect(one('levels', { black: 1 }, [0.5, 1, 2]).every(Number.isFinite)).toBe(true);
  });
  test('gamma is a power', () => close(one('gamma', { gamma: 2.2 }, [0.5, 1, 0]), [0.5 ** (1 / 2.2), 1, 0]));

  test.each([
    ['gamma', { gamma: 2.2 }],
    ['contrast', { contrast: 80, pivot: 0.3 }],
    ['contrast', { contrast: -100 }],
    ['levels', { black: 0.1, white: 0.9, middle: 0.6, toBlack: -0.2 }],
    ['levels', { black: 0.9, white: 0.1, toBlack: 0.05 }],
    [
      'tone-curves',
      {
        all: [
          [0, -10],
          [0.5, 20],
        ],
      },
    ],
    [
      'tone-curves',
      {
        red: [
          [0, 8],
          [1, -30],
        ],
      },
    ],
    ['slope-offset-power', { slope: [1.2, 1, 0.8], offset: [-0.1, 0.1, 0], power: [1.5, 1, 0.5] }],
  ] as const)(
    '%s %j makes no light negative that was not, and goes on below 0 as it is at 0, plus x',
    (kind, values) => {
      const light = fc.double({ min: 0, max: 40, noNaN: true });
      const at = (v: number) => one(kind, values as never, [v, v, v]);
      const black = at(0);
      fc.assert(
        fc.property(light, (v) => {
          for (const got of at(v)) expect(got).toBeGreaterThanOrEqual(0);
          at(-v).forEach((got, k) => expect(got).toBeCloseTo(black[k]! - v, 4));
        }),
      );
    },
  );
  test('saturation of a decision list makes no light negative that was not', () => {
    expect(Math.min(...one('slope-offset-power', { saturation: 4 }, [1, 0.2, 0]))).toBe(0);
    expect(one('slope-offset-power', { saturation: 4 }, [0.5, 0.4, -0.01])[2]).toBeCloseTo(-0.01, 6);
  });
});

describe('colour', () => {
  test('a colour multiplies channel by channel', () =>
    close(one('multiply', { by: [0.5, 2, 0] }, [0.4, 0.4, 7]), [0.2, 0.8, 0]));

  test.each([
    // Illuminant A (whose 2848 K of 1931 are 2856 K today) and bodies of published tables; D50, D55, D65 and D75.
    [2856, 0.44757, 0.40745],
    [2000, 0.5267, 0.4133],
    [4000, 0.3805, 0.3768],
    [5003, 0.34567, 0.3585],
    [5503, 0.33242, 0.34743],
    [6504, 0.31271, 0.32902],
    [7504, 0.29902, 0.31485],
  ])('the light of %i K is the published one', (kelvin, x, y) => {
    const [a, b] = lightOf(kelvin);
    expect(Math.hypot(a - x, b - y)).toBeLessThan(2e-4);
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
  /** A grey of half the white under a light of some chromaticity, as pixels of Rec. 709. */
  function greyUnder([x, y]: readonly [number, number]): Rgb {
    const lit = converter('lrgb')({ mode: 'xyz65', x: (0.5 * x) / y, y: 0.5, z: (0.5 * (1 - x - y)) / y });
    return [lit.r, lit.g, lit.b];
  }
  /** What the eye sees between a colour and the grey of its own lightness. */
  const offGrey = (v: Rgb) => {
    const { l } = converter('lab65')(lrgb(v));
    return differenceCiede2000()(lrgb(v), { mode: 'lab65', l, a: 0, b: 0 });
  };
  test('the light that something grey is seen under is found, and makes it grey', () => {
    fc.assert(
      fc.property(
        // Below, a tint may leave what any light can have.
        fc.integer({ min: 2500, max: 12_000 }),
        fc.integer({ min: -30, max: 30 }),
        fc.double({ min: 0.01, max: 5, noNaN: true }),
        (kelvin, tint, bright) => {
          const seen = greyUnder(lightOf(kelvin, tint * 0.0004)).map((v) => v * bright) as Rgb;
          const found = lightOfGrey(seen)!;
          // Mireds, as lights are compared.
          expect(Math.abs(1e6 / found.kelvin - 1e6 / kelvin)).toBeLessThan(1);
          expect(Math.abs(found.tint - tint)).toBeLessThan(0.5);
          const [r, g, b] = one('white-balance', found, seen);
          expect(Math.max(r, g, b) / Math.min(r, g, b) - 1).toBeLessThan(5e-3);
        },
      ),
    );
  });
  test('black, and what no light makes of grey, name none', () => {
    expect(lightOfGrey([0, 0, 0])).toBeUndefined();
    expect(lightOfGrey([0, 0, 1])).toBeUndefined();
    expect(lightOfGrey([0.02, 0.9, 0.05])).toBeUndefined();
  });
  const LAMPS = [1900, 2000, 2400, 2856, 3200, 3500, 4000];
  const SKIES = [5000, 5500, 6000, 6504, 7000, 8000, 10_000, 12_000];
  test.each([
    ...LAMPS.map((kelvin) => ['black body', kelvin, blackBody(kelvin)] as const),
    ...SKIES.map((kelvin) => ['daylight', kelvin, cieDaylight(kelvin)] as const),
  ])('white balance makes grey what is grey under a light, %s at %i K', (_, kelvin, light) => {
    for (const cones of ['bradford', 'cat16']) {
      const balanced = one('white-balance', { kelvin, cones }, greyUnder(light));
      expect(offGrey(balanced)).toBeLessThan(0.3);
    }
  });
  test('white balance has no step where lamps go over into daylight, and none at grey', () => {
    const at = (kelvin: number) => one('white-balance', { kelvin }, [0.5, 0.5, 0.5]);
    for (const kelvin of [3995, 4000, 4500, 4995, 5000, 6495, 6500, 6995, 7000]) {
      const [a, b] = [at(kelvin), at(kelvin + 1)];
      expect(Math.max(...a.map((v, k) => Math.abs(v - b[k]!)))).toBeLessThan(7e-4);
    }
    close(at(6500), [0.5, 0.5, 0.5], 9);
    expect(correctionOf('white-balance')!.idle!({ kelvin: 6500, tint: 0 })).toBe(true);
  });
  test('white balance cools what is said to be warm, and takes green out', () => {
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
              : f.kind === 'choice'
                ? fc.constantFrom(...f.options.map((o) => o.value))
                : f.kind === 'picture' || f.kind === 'points'
                  ? fc.constant(f.neutral)
                  : f.kind === 'pass'
                    ? fc.constant('occlusion')
                    : f.kind === 'switch'
                      ? fc.boolean()
                      : f.kind === 'curve'
                        ? fc.array(
                            fc.tuple(
                              value,
                              value.map((v) => (2 * v - 1) * f.reach),
                            ),
                            { maxLength: 6 },
                          )
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
        { numRuns: runs(200) },
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
      const passes = c.fields.flatMap((f) =>
        f.kind === 'pass'
          ? [[f.key, 'a pass']]
          : f.kind === 'picture'
            ? [[f.key, { file: 'a', name: 'a' }]]
            : [],
      );
      const initial = { ...initialValues(c.fields), ...(Object.fromEntries(passes) as object) };
      if (Object.keys(initialValues(c.fields)).length)
        expect([c.kind, doesNothing(c, initial)]).toEqual([c.kind, false]);
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

describe('passes, depth and places', () => {
  const plane = (...v: number[]) => Float32Array.from(v);
  test('one kind of light is scaled and tinted, everything else stays', () => {
    const passes = { reflection: [plane(0.1, 0, 0.4), plane(0.2, 0, 0.4), plane(0.3, 0, 0.4)] };
    const pixels: Rgb[] = [
      [0.5, 0.5, 0.5],
      [0.5, 0.5, 0.5],
      [0, 0.4, 0.8],
    ];
    const found = through('scale-light', { pass: 'reflection', gain: 0.5, tint: [1, 0, 2] }, pixels, passes);
    close(found[0]!, [0.45, 0.3, 0.5]);
    close(found[1]!, [0.5, 0.5, 0.5]);
    // A pass that says more than there is has all of it.
    close(found[2]!, [0, 0, 0.8]);
  });
  test('a pass is added, tinted; what is no number adds nothing', () => {
    const passes = { emission: [plane(1, NaN), plane(1, 2), plane(1, Infinity)] };
    const found = through(
      'add-pass',
      { pass: 'emission', strength: 50, tint: [1, 0.5, 1] },
      [
        [1, 1, 1],
        [1, 1, 1],
      ],
      passes,
    );
    close(found[0]!, [1.5, 1.25, 1.5]);
    close(found[1]!, [1, 1.5, 1]);
  });
  test('haze takes half of what is left with every half more, and all that is infinitely far', () => {
    const depth = { depth: [plane(1, 2, 5, 8, Infinity, NaN)] };
    const values = { pass: 'depth', strength: 100, from: 2, half: 3, colour: [1, 1, 1] as Rgb };
    const found = through(
      'haze',
      values,
      Array.from({ length: 6 }, (): Rgb => [0, 0, 0]),
      depth,
    );
    expect(found.map((c) => Number(c[0].toFixed(4)))).toEqual([0, 0, 0.5, 0.75, 1, 1]);
  });
  test('a vignette leaves the middle, is round, and ends in the corners', () => {
    const apply = (width: number, height: number) => {
      const count = width * height;
      const [r, g, b] = [0, 1, 2].map(() => new Float32Array(count).fill(1)) as [
        Float32Array,
        Float32Array,
        Float32Array,
      ];
      const rendered = { width, height, r: r.slice(), g: g.slice(), b: b.slice() };
      const c = correctionOf('vignette')!;
      const values = wholeValues(settingsOf(c), { stops: 1, size: 20, soft: 80 });
      if (c.works === 'pixel')
        c.apply({ count, r, g, b, at: Uint32Array.from(r.keys()), rendered, passes: {} }, values);
      return (x: number, y: number) => r[y * width + x]!;
    };
    const at = apply(201, 101);
    expect([at(100, 50), at(110, 50), at(100, 60)]).toEqual([1, 1, 1]);
    expect(at(0, 0)).toBeCloseTo(0.5, 2);
    expect(at(100 + 40, 50)).toBeCloseTo(at(100, 50 + 40), 5);
    expect(at(0, 0)).toBeCloseTo(at(200, 100), 5);
  });
});

describe('light and colour once more', () => {
  test('shadows are lifted and highlights pulled by so many stops four stops from the pivot; hue and pivot stay', () => {
    const values = { shadows: 1, highlights: -1.5, pivot: 0.2 };
    const at = (stops: number): Rgb => [0.2 * 2 ** stops, 0.2 * 2 ** stops, 0.2 * 2 ** stops];
    const gain = (stops: number) => Math.log2(one('shadows-highlights', values, at(stops))[0] / at(stops)[0]);
    expect([-6, -4, 0, 4, 9].map((s) => Number(gain(s).toFixed(4)))).toEqual([1, 1, 0, -1.5, -1.5]);
    const [r, g, b] = one('shadows-highlights', values, [0.01, 0.02, 0.005]);
    expect([r / g, b / g]).toEqual([expect.closeTo(0.5, 5), expect.closeTo(0.25, 5)]);
    close(one('shadows-highlights', values, [-0.1, -0.2, 0]), [-0.1, -0.2, 0]);
  });
  test('as far as they go, shadows and highlights keep order', () => {
    const settings = correctionOf('shadows-highlights')!.fields;
    const most = (key: string) => settings.find((f) => f.key === key) as { min: number; max: number };
    const lift = { shadows: most('shadows').max, highlights: most('highlights').min };
    let last = -1;
    for (let s = -9; s < 9; s += 0.1) {
      const [v] = one('shadows-highlights', lift, [2 ** s, 2 ** s, 2 ** s]);
      expect(v).toBeGreaterThan(last);
      last = v;
    }
  });
  test('channels are mixed by a matrix', () => {
    fc.assert(
      fc.property(rgb, rgb, rgb, rgb, (red, green, blue, c) => {
        const found = one('channel-mix', { red, green, blue }, c as Rgb);
        close(
          found,
          [red, green, blue].map((row) => row[0] * c[0] + row[1] * c[1] + row[2] * c[2]),
          3,
        );
      }),
      { numRuns: 50 },
    );
  });
  test('grey goes by the weights, which need not add up to 1', () => {
    close(one('grey', { strength: 100, weights: [2, 0, 2] }, [0.2, 0.9, 0.6]), [0.4, 0.4, 0.4]);
    close(one('grey', { strength: 50, weights: [1, 0, 0] }, [0.2, 0.6, 0.4]), [0.2, 0.4, 0.3]);
    close(one('grey', { strength: 100, weights: [0, 0, 0] }, [0.3, 0.6, 0.9]), [0.6, 0.6, 0.6]);
  });
});

describe('fill', () => {
  const width = 40;
  const c = correctionOf('fill') as PixelCorrection;
  const shade = (at: number) => 0.2 + 0.02 * (at % width);
  function filled(values: Record<string, FieldValue>) {
    const count = width * 4;
    const plane = () => Float32Array.from({ length: count }, (_, i) => shade(i));
    const [r, g, b] = [plane(), plane(), plane()];
    const rendered = { width, height: 4, r: plane(), g: plane(), b: plane() };
    const run = { count, r, g, b, at: Uint32Array.from(r.keys()), rendered, passes: {} };
    const all = wholeValues(settingsOf(c), values);
    const measured = c.measure!({ ...run, weight: new Float32Array(count).fill(1) }, all);
    c.apply(run, all, measured);
    return run;
  }
  const mean = (plane: Float32Array) => plane.reduce((a, v) => a + v, 0) / plane.length;
  test('keeps the shading, and its mean is the colour', () => {
    const { r, g, b } = filled({ colour: [0.6, 0.3, 0.1] });
    expect([mean(r), mean(g), mean(b)].map((v) => Number(v.toFixed(4)))).toEqual([0.6, 0.3, 0.1]);
    expect(r[30]! / r[3]!).toBeCloseTo(shade(30) / shade(3), 4);
    const flat = filled({ colour: [0.6, 0.3, 0.1], shading: 0 });
    expect(new Set(flat.r)).toEqual(new Set([Math.fround(0.6)]));
  });
  test('runs from one side of the part to the other, and the other way round', () => {
    const values = { colour: [1, 1, 1] as Rgb, second: [0, 0, 0] as Rgb, gradient: true, shading: 0 };
    const { r } = filled(values);
    expect([r[0]!, r[19]!, r[39]!].map((v) => Number(v.toFixed(4)))).toEqual([0.9875, 0.5125, 0.0125]);
    expect(filled({ ...values, angle: 180 }).r[0]).toBeCloseTo(0.0125, 4);
    // Down, rows differ and columns do not.
    const down = filled({ ...values, angle: 90 }).r;
    expect([down[0], down[39], down[40 * 3]].map((v) => Number(v!.toFixed(4)))).toEqual([
      0.875, 0.875, 0.125,
    ]);
  });
});
