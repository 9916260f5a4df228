import { noMask, type Change } from '@zesty-crow/core';

/** Six changes; the first is open, and covers about a tenth of the frame. */
export const CHANGES: Change[] = [
  ['CryptoObject', 'hive/*'],
  ['CryptoMaterial', 'lid_enamel'],
  ['CryptoObject', 'lavender/*'],
  ['CryptoMaterial', 'brass'],
  ['CryptoMaterial', 'linen'],
  ['CryptoObject', 'nothing'],
].map(([layer, member], i) => ({
  ...noMask(),
  id: `change-${i}`,
  words: member!,
  on: true,
  done: false,
  plainEdges: false,
  who: [{ mode: 'with', layer: layer!, member: member! }],
  corrections: [
    {
      id: `c${i}`,
      kind: 'hue-saturation-lightness',
      on: true,
      values: { hue: 15 * (i + 1), saturation: 10 },
    },
  ],
}));
