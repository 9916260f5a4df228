import { deflateSync, constants } from 'node:zlib';
import fc from 'fast-check';
import { portableZlib } from '../formats/exr/portable-zlib.ts';
import { shuffle, unshuffle } from '../formats/exr/compression/predictor.ts';
import { predictBlock, unpredictBlock, unzipBlock } from './exr.ts';
import { runs } from '../../test/runs.ts';

const bytes = fc.oneof(
  fc.uint8Array({ maxLength: 400 }),
  // What packs well: runs, short periods, few values.
  fc
    .array(fc.tuple(fc.nat(255), fc.integer({ min: 1, max: 700 })), { maxLength: 40 })
    .map((runs) => Uint8Array.from(runs.flatMap(([v, n]) => Array<number>(n).fill(v)))),
  fc
    .tuple(fc.uint8Array({ minLength: 1, maxLength: 40 }), fc.nat(3000))
    .map(([unit, n]) => Uint8Array.from({ length: n }, (_, i) => unit[i % unit.length]!)),
);
const packing = fc.record({
  level: fc.integer({ min: 0, max: 9 }),
  strategy: fc.constantFrom(
    constants.Z_DEFAULT_STRATEGY,
    constants.Z_FIXED,
    constants.Z_HUFFMAN_ONLY,
    constants.Z_RLE,
  ),
  memLevel: fc.integer({ min: 1, max: 9 }),
});
const whole = (size: number, block: ReturnType<typeof unzipBlock>) => block && block.bytes(0, size).slice();

describe('unpacking a block', () => {
  test('gives what plain code gives, however it was packed', () => {
    fc.assert(
      fc.property(bytes, packing, (raw, options) => {
        const even = raw.subarray(0, raw.length & ~1);
        const packed = new Uint8Array(deflateSync(shuffle(even), options));
        const plain = unshuffle(portableZlib.inflate(packed, even.length));
        expect(plain).toEqual(even);
        expect(whole(even.length, unzipBlock(packed, even.length))).toEqual(even);
      }),
      { numRuns: runs(300) },
    );
  });

  test('any part of it is woven alone', () => {
    const raw = Uint8Array.from({ length: 1000 }, (_, i) => (i * i) % 251);
    const block = unpredictBlock(shuffle(raw));
    fc.assert(
      fc.property(fc.nat(499), fc.nat(499), (a, b) => {
        const [from, to] = [2 * Math.min(a, b), 2 * Math.max(a, b)];
        expect(block.bytes(from, to - from).slice()).toEqual(raw.slice(from, to));
      }),
    );
  });

  test('one changed byte is never taken for a sound block of other contents', () => {
    fc.assert(
      fc.property(bytes, packing, fc.nat(), fc.integer({ min: 1, max: 255 }), (raw, options, at, by) => {
        const even = raw.subarray(0, raw.length & ~1);
        const packed = new Uint8Array(deflateSync(shuffle(even), options));
        packed[at % packed.length]! ^= by;
        const found = whole(even.length, unzipBlock(packed, even.length));
        // A header may change in ways that mean the same.
        if (found) expect(found).toEqual(even);
      }),
      { numRuns: runs(300) },
    );
  });

  test('noise, cut streams and other sizes are refused', () => {
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 200 }), fc.nat(500), (noise, size) => {
        expect(unzipBlock(noise, size)).toBeUndefined();
      }),
    );
    const packed = new Uint8Array(deflateSync(new Uint8Array(100)));
    for (let n = 0; n < packed.length; n++) expect(unzipBlock(packed.subarray(0, n), 100)).toBeUndefined();
    expect(unzipBlock(packed, 98)).toBeUndefined();
    expect(unzipBlock(packed, 102)).toBeUndefined();
  });
});

test('the predictor of the kernel is that of plain code', () => {
  fc.assert(
    fc.property(bytes, (raw) => {
      expect(predictBlock(raw)).toEqual(shuffle(raw));
    }),
  );
});
