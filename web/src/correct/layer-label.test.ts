import { layerLabel, seenElsewhere } from './layer-label.ts';

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

test('where else a name may be seen', () => {
  const names = ['CryptoObject', 'RefractedMaterial', 'ReflectedMaterial', 'Reflected2Object', 'Buffers'];
  expect(seenElsewhere('CryptoMaterial', names)).toEqual([
    { layer: 'RefractedMaterial', where: 'through glass' },
    { layer: 'ReflectedMaterial', where: 'in reflections' },
  ]);
  expect(seenElsewhere('CryptoObject', names)).toEqual([
    { layer: 'Reflected2Object', where: 'in reflections, 2 deep' },
  ]);
  expect(seenElsewhere('Buffers', names)).toEqual([]);
});
