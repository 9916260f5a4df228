import fc from 'fast-check';
import { runs } from '../../test/runs.ts';
import {
  clashesOf,
  nameBy,
  patternFault,
  plainName,
  plainNames,
  USUAL_NAME,
  type NameFacts,
} from './naming.ts';
import { framesOf } from './parcel.ts';
import { layerOver } from './layer-over.ts';
import { quantise } from './raster/quantise.ts';

const facts: NameFacts = {
  shot: 'Honey table',
  version: 3,
  variant: '',
  part: '',
  frame: 7,
  parcel: 'Masks',
};

test('what is empty leaves no separator behind', () => {
  expect(nameBy(USUAL_NAME, facts)).toBe('masks/honey_table_v3.0007');
  expect(nameBy(USUAL_NAME, { ...facts, frame: undefined, part: 'lids' })).toBe('masks/honey_table_v3_lids');
  expect(nameBy('{parcel}/{variant}-{shot}', { ...facts, variant: 'Über Nacht' })).toBe(
    'masks/uber_nacht-honey_table',
  );
});

test('whatever things are called, a name is a name on every disk', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'grapheme' }), fc.string({ unit: 'grapheme' }), (shot, part) => {
      const name = nameBy(USUAL_NAME, { ...facts, shot, part });
      expect(name).toMatch(/^masks\/[\p{L}\p{M}\p{N}][\p{L}\p{M}\p{N}._-]*$/u);
      expect(name).toBe(name.normalize('NFC'));
      expect(plainName(plainName(part))).toBe(plainName(part));
    }),
  );
});

test('names in Latin letters are spelled as ever, those in other scripts keep their letters', () => {
  const before = (text: string) =>
    text
      .normalize('NFKD')
      .replace(/[\u0300-\u036f]/g, '')
      .toLowerCase()
      .replace(/[^a-z0-9.-]+/g, '_')
      .replace(/^[_.]+|[_.]+$/g, '')
      .slice(0, 80);
  const latin = fc.constantFrom(...'abzÄéñøßÅœŁ09 _-.…&™ﬁ'.split(''), 'e\u0301');
  fc.assert(
    fc.property(fc.array(latin, { maxLength: 100 }), (all) => {
      expect(plainName(all.join(''))).toBe(before(all.join('')));
    }),
    { numRuns: runs(800) },
  );
  expect(plainName('蜂蜜 の 瓶')).toBe('蜂蜜_の_瓶');
  expect(plainName('Мёд Й, тёплый')).toBe('мёд_й_тёплый');
  expect(plainName('عسل')).toBe('عسل');
});

test('names that some systems refuse are mended, and are still told apart', () => {
  const named = (shot: string) => nameBy('{shot}.{frame}', { ...facts, shot });
  expect([named('CON'), named('nul'), named('Lpt1'), named('console')]).toEqual([
    ...['con_.0007', 'nul_.0007', 'lpt1_.0007', 'console.0007'],
  ]);
  const long = '蜜'.repeat(79);
  const names = [6, 7].map((frame) =>
    nameBy(`{shot}_{part}_{variant}.{frame}`, { ...facts, shot: long, part: long, variant: long, frame }),
  );
  for (const name of names) expect(Buffer.byteLength(`${name}.exr`)).toBeLessThan(255);
  expect(names[0]).not.toBe(names[1]);
  expect(names[1]).toMatch(/\.0007$/);
  expect(clashesOf(['Jar\u00e9.png', 'jare\u0301.png', 'b.png'])).toHaveLength(2);
  expect(patternFault('a\u0000b')).toMatch(/control characters/);
});

test('what is called alike is counted from the second on', () =>
  expect(plainNames(['Lid', 'lid!', '', 'LID', '…', 'lid_2'], 'part')).toEqual([
    ...['lid', 'lid_2', 'part', 'lid_3', 'part_2', 'lid_2_2'],
  ]));

test('patterns that cannot be used say why', () => {
  expect(patternFault('{shot}_{size}')).toBe('There is no placeholder {size}.');
  expect(patternFault('  ')).toBe('Give the files a name.');
  expect(patternFault('../{shot}')).toMatch(/folder/);
  expect(patternFault('a:b')).toMatch(/may not contain/);
  expect(patternFault(USUAL_NAME)).toBe('');
  expect(clashesOf(['a.png', 'A.png', 'b.png'])).toEqual(['a.png', 'A.png']);
});

test('frames are those that are named, of those there are', () => {
  expect(framesOf('', [1, 2, 4])).toEqual([1, 2, 4]);
  expect(framesOf('2-3, 9; 4', [1, 2, 4, 9])).toEqual([2, 4, 9]);
  expect(() => framesOf('one', [1])).toThrow('“one” names no frames');
});

test('a layer over any picture gives any other within a step, whatever its mask', () => {
  const sample = fc.integer({ min: 0, max: 65535 });
  fc.assert(
    fc.property(
      fc.array(fc.tuple(sample, sample, fc.double({ min: 0, max: 1, noNaN: true })), {
        minLength: 3,
        maxLength: 30,
      }),
      (values) => {
        const pixels = Math.floor(values.length / 3);
        const take = (k: 0 | 1) => Uint16Array.from(values.slice(0, 3 * pixels), (v) => v[k]);
        const [below, wanted] = [take(0), take(1)];
        const cover = Float32Array.from({ length: pixels }, (_, p) => values[p]![2]);
        const { rgba, sum } = layerOver(below, wanted, cover);
        for (let i = 0; i < sum.length; i++) {
          expect(Math.abs(sum[i]! - wanted[i]!)).toBeLessThanOrEqual(1);
          const [p, k] = [Math.floor(i / 3), i % 3];
          const a = rgba[4 * p + 3]!;
          // Laid over by the usual formula.
          const over = (a * rgba[4 * p + k]! + (65535 - a) * below[i]!) / 65535;
          expect(Math.abs(over - wanted[i]!)).toBeLessThanOrEqual(1);
        }
      },
    ),
    { numRuns: runs(300) },
  );
});

test('whole numbers are clamped, and what is no number is 0', () => {
  const values = Float32Array.of(-1, NaN, 0, 1, Infinity, 0.5);
  expect([...quantise(values, 8, true)].slice(0, 5)).toEqual([0, 0, 0, 255, 255]);
  expect([...quantise(values, 16, false)]).toEqual([0, 0, 0, 65535, 65535, 32768]);
});

test('dither moves no value by more than a step and a half, and keeps what rounding would lose', () => {
  const flat = new Float32Array(20_000).fill(100.4 / 255);
  const shaken = quantise(flat, 8, true);
  expect(shaken.every((v) => Math.abs(v - 100.4) <= 1.5)).toBe(true);
  expect([...shaken].reduce((sum, v) => sum + v, 0) / shaken.length).toBeCloseTo(100.4, 1);
  // The same picture is the same file.
  expect(quantise(flat, 8, true)).toEqual(shaken);
});
