import fc from 'fast-check';
import { shuffle, unshuffle } from './predictor.ts';

/** As the format's description puts it: bytes parted by even and odd, then differences plus 128. */
function asDescribed(raw: Uint8Array): number[] {
  const parted = [...raw.filter((_, i) => i % 2 === 0), ...raw.filter((_, i) => i % 2 === 1)];
  return parted.map((v, i) => (i === 0 ? v : (v - parted[i - 1]! + 128 + 256) % 256));
}

test('is what the format describes, and turns back, for any number of bytes', () => {
  fc.assert(
    fc.property(fc.uint8Array({ maxLength: 70 }), (raw) => {
      const coded = shuffle(raw);
      expect([...coded]).toEqual(asDescribed(raw));
      expect([...unshuffle(coded)]).toEqual([...raw]);
    }),
  );
});

test('makes even ramps of 16-bit numbers into bytes of one value, which pack well', () => {
  const ramp = new Uint8Array(Uint16Array.from({ length: 100 }, (_, i) => i).buffer);
  expect(new Set(shuffle(ramp).subarray(1, 100))).toEqual(new Set([129]));
});
