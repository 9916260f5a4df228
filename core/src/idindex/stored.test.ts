import { deflateSync } from 'node:zlib';
import fc from 'fast-check';
import { sample } from '../../test/fixtures/samples.ts';
import { nodeZlib } from '../../node/zlib.ts';
import { portableZlib } from '../formats/exr/portable-zlib.ts';
import { loadIdLayers } from '../idlayers/load.ts';
import { buildIdIndex } from './id-index.ts';
import { packIndex, unpackIndex } from './stored.ts';
import { runs } from '../../test/runs.ts';

const index = buildIdIndex(loadIdLayers(sample('all.exr')).layers[0]!.planes!);
const packed = packIndex(index, nodeZlib);

test('an index comes back as it was, and takes a fraction of its room', () => {
  expect(unpackIndex(packed, 640, 360)).toEqual(index);
  expect(unpackIndex(packIndex(index, portableZlib), 640, 360)).toEqual(index);
  expect(packed.length).toBeLessThan((16 * index.slot.length) / 3);
});

test('of another size, format or cut short it is not taken', () => {
  expect(unpackIndex(packed, 640, 361)).toBeUndefined();
  expect(unpackIndex(packed.subarray(0, 20), 640, 360)).toBeUndefined();
  expect(unpackIndex(packed.subarray(0, packed.length - 1), 640, 360)).toBeUndefined();
  const other = packed.slice();
  other[4] = 99;
  const swapped = packed.slice();
  swapped[packed.length - 9]! ^= 1;
  expect(unpackIndex(swapped, 640, 360)).toBeUndefined();
  expect(unpackIndex(other, 640, 360)).toBeUndefined();
});

test('whatever is written in it, an index that is taken stays within the picture', () => {
  const broken = (edit: (i: typeof index) => void) => {
    const copy = structuredClone(index);
    edit(copy);
    return unpackIndex(packIndex(copy, { ...nodeZlib, deflate: (d) => deflateSync(d) }), 640, 360);
  };
  expect(broken((i) => (i.length[5] = 641))).toBeUndefined();
  expect(broken((i) => (i.slot[5] = 4000))).toBeUndefined();
  expect(broken((i) => (i.coverage[5] = NaN))).toBeUndefined();
  expect(broken((i) => (i.ids[1] = i.ids[0]!))).toBeUndefined();
  fc.assert(
    fc.property(fc.nat(packed.length - 1), fc.integer({ min: 1, max: 255 }), (at, by) => {
      const bytes = packed.slice();
      bytes[at]! ^= by;
      const found = unpackIndex(bytes, 640, 360);
      if (found) expect({ ...found, over: 0, broken: 0 }).toEqual({ ...index, over: 0, broken: 0 });
    }),
    // Found by chance once: unpacked to another index that was sound.
    { numRuns: runs(60), examples: [[16812, 2]] },
  );
});
