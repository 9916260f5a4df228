import fc from 'fast-check';
import { runs } from '../../../test/runs.ts';
import { wholeValues } from '../../fields/values.ts';
import type { ColourValue, FieldValues } from '../../fields/field.ts';
import type { PixelCorrection } from '../correction.ts';
import { correctionOf } from '../registry.ts';
import { composeCdl } from './compose-cdl.ts';

const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
const three = (min: number, max: number) =>
  fc.tuple(number(min, max), number(min, max), number(min, max)).map((v): ColourValue => v);
const some = <T>(value: fc.Arbitrary<T>, neutral: T) => fc.oneof(fc.constant(neutral), value);
const step = fc.oneof(
  number(-3, 3).map((stops) => ({ kind: 'exposure', values: { stops } })),
  three(0.1, 3).map((by) => ({ kind: 'multiply', values: { by } })),
  fc
    .record({
      slope: some(three(0.2, 3), [1, 1, 1] as ColourValue),
      offset: some(three(-0.3, 0.3), [0, 0, 0] as ColourValue),
      power: some(three(0.4, 2), [1, 1, 1] as ColourValue),
      saturation: some(number(0, 2), 1),
    })
    .map((values) => ({ kind: 'slope-offset-power', values })),
);

/** A pixel through corrections, one after another, as the application computes them. */
function through(
  steps: readonly { kind: string; values: FieldValues }[],
  pixel: readonly number[],
): number[] {
  const [r, g, b] = pixel.map((v) => Float32Array.of(v)) as [Float32Array, Float32Array, Float32Array];
  const rendered = { width: 1, height: 1, r, g, b };
  for (const { kind, values } of steps) {
    const correction = correctionOf(kind) as PixelCorrection;
    const run = { count: 1, r, g, b, at: Uint32Array.of(0), rendered, passes: {} };
    correction.apply(run, wholeValues(correction.fields, values));
  }
  return [r[0]!, g[0]!, b[0]!];
}

test('corrections that become one are the same one after another', () => {
  let composed = 0;
  fc.assert(
    fc.property(fc.array(step, { minLength: 1, maxLength: 3 }), three(0, 4), (steps, pixel) => {
      const values = composeCdl(steps);
      if (!values) return;
      composed++;
      const wanted = through(steps, pixel);
      through([{ kind: 'slope-offset-power', values }], pixel).forEach((v, k) =>
        expect(Math.abs(v - wanted[k]!)).toBeLessThan(2e-5 * (1 + Math.abs(wanted[k]!)) + 1e-5),
      );
    }),
    { numRuns: runs(2000) },
  );
  expect(composed).toBeGreaterThan(20);
});

test('where light would be cut off in between, or colours mixed, they do not', () => {
  const power = { kind: 'slope-offset-power', values: { power: [2, 2, 2] as ColourValue } };
  const less = { kind: 'slope-offset-power', values: { offset: [-0.1, 0, 0] as ColourValue } };
  const warm = { kind: 'multiply', values: { by: [1.2, 1, 0.8] as ColourValue } };
  expect(composeCdl([power, warm])).toBeUndefined();
  expect(composeCdl([less, less])).toBeUndefined();
  expect(composeCdl([warm, power])).toMatchObject({ slope: [1.2, 1, 0.8], power: [2, 2, 2] });
  expect(composeCdl([{ kind: 'blur', values: {} }])).toBeUndefined();
});
