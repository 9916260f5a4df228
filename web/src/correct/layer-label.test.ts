import { layerLabel } from './layer-label.ts';

test.each([
  ['CryptoObject', 'objects', 'object'],
  ['CryptoMaterial', 'materials', 'material'],
  ['RefractedMaterial', 'materials through glass', 'behind glass'],
  ['Reflected2Object', 'objects in mirrors, 2 deep', 'in mirror 2'],
  // Names that nobody agreed on stay as they are.
  ['Puzzle mattes', 'Puzzle mattes', 'Puzzle mattes'],
  ['CryptoHive', 'CryptoHive', 'CryptoHive'],
])('%s is called %s', (name, many, one) => {
  expect(layerLabel(name)).toBe(many);
  expect(layerLabel(name, true)).toBe(one);
});
