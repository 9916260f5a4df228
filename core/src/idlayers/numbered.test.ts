import fc from 'fast-check';
import type { ExrChannel } from '../formats/exr/types.ts';
import {
  decodeNumberedLayer,
  describeNumberedLayer,
  findNumberedLayers,
  makeNumberedLayer,
  type NumberedLayer,
} from './numbered.ts';
import { idOfName } from './ids.ts';

const channel = (name: string, values: number[]): ExrChannel => ({
  name,
  type: 'float',
  xSampling: 1,
  ySampling: 1,
  pLinear: false,
  data: Float32Array.from(values),
});
const size = { width: 4, height: 1 };

describe('numbered layers', () => {
  test('are found again as they were written, passes of one layer together', () => {
    const one: NumberedLayer = {
      layer: 'Buffers',
      kind: 'object-buffer',
      members: [{ channel: 'buffer_04.Y', member: '04' }],
    };
    const two: NumberedLayer = { ...one, members: [{ channel: 'buffer_09.Y', member: '09' }] };
    const other: NumberedLayer = {
      layer: 'Puzzle mattes',
      kind: 'puzzle-matte',
      members: [{ channel: 'puzzle_1.G', member: 'brass' }],
    };
    const found = findNumberedLayers([one, two, other].map(makeNumberedLayer));
    expect(found).toEqual([{ ...one, members: [...one.members, ...two.members] }, other]);
  });

  test('of somebody else are passed over', () => {
    const value = (text: string) => ({
      name: 'zestyCrow/coverage/x',
      type: 'string',
      value: new TextEncoder().encode(text),
    });
    expect(
      findNumberedLayers([value('no JSON'), value('{"layer":3}'), value('{"layer":"a"}'), value('null')]),
    ).toEqual([]);
  });

  test('give each member its coverage, overlapping ones too, in falling ranks', () => {
    const levels = fc.array(fc.constantFrom(0, 0.25, 0.5, 1), { minLength: 4, maxLength: 4 });
    fc.assert(
      fc.property(fc.array(levels, { minLength: 1, maxLength: 6 }), (planes) => {
        const layer: NumberedLayer = {
          layer: 'Buffers',
          kind: 'object-buffer',
          members: planes.map((_, i) => ({ channel: `b${i}.Y`, member: `m${i}` })),
        };
        const channels = planes.map((p, i) => channel(`b${i}.Y`, p));
        const { info, manifest } = describeNumberedLayer(layer, channels);
        const ranks = decodeNumberedLayer(layer, channels, size);
        expect(info.faults).toEqual([]);
        expect(manifest.nameOf.size).toBe(planes.length);
        for (let p = 0; p < 4; p++) {
          const c = ranks.coverage.map((plane) => plane[p]!);
          expect([...c].sort((a, b) => b - a)).toEqual(c);
          planes.forEach((plane, i) => {
            const rank = ranks.ids.findIndex((ids) => ids[p] === idOfName(`m${i}`));
            expect(rank < 0 ? 0 : ranks.coverage[rank]![p]).toBe(plane[p]);
          });
        }
      }),
    );
  });

  test('of numbers cover whole pixels', () => {
    const layer: NumberedLayer = {
      layer: 'Numbers of objects',
      kind: 'number-pass',
      members: [4, 7].map((value) => ({ channel: 'n.Y', member: `0${value}`, value })),
    };
    const planes = decodeNumberedLayer(layer, [channel('n.Y', [0, 4, 7, 5])], size);
    expect(planes.ids.map((p) => [...p])).toEqual([[0, idOfName('04'), idOfName('07'), 0]]);
    expect(planes.coverage.map((p) => [...p])).toEqual([[0, 1, 1, 0]]);
  });

  test('whose channel is gone or does not have every pixel say so', () => {
    const layer: NumberedLayer = {
      layer: 'Buffers',
      kind: 'object-buffer',
      members: [{ channel: 'b.Y', member: 'm' }],
    };
    for (const channels of [[], [{ ...channel('b.Y', [1, 1]), xSampling: 2 }]]) {
      const { info } = describeNumberedLayer(layer, channels);
      expect(info.faults[0]!.message).toContain('b.Y');
    }
  });
});
