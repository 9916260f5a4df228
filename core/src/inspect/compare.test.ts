import { readScratch, scratch, tool } from '../../test/fixtures/tools.ts';
import { sampleBytes, samplePath } from '../../test/fixtures/samples.ts';
import { openFrame } from '../version/open-frame.ts';
import { compareFrames } from './compare.ts';

const frameOf = (bytes: Uint8Array) =>
  openFrame([{ role: 'picture', name: 'a.exr', frame: null }], undefined, () => Promise.resolve(bytes));

test('a version against itself has no difference', async () => {
  const bytes = sampleBytes('all.exr');
  const { passes, layers, difference, sizes } = await compareFrames(
    await frameOf(bytes),
    await frameOf(bytes),
    320,
  );
  expect(passes.map((p) => p.fate)).toEqual(['same', 'same', 'same', 'same']);
  expect(layers.map((l) => l.members)).toEqual([[], []]);
  expect(difference).toMatchObject({ pixels: 0, most: 0 });
  expect(sizes).toBeUndefined();
});

test('what came, went and changed is told, and where the picture differs', async () => {
  // A light square on the picture, the depth gone, one ID layer gone, and another pass there.
  tool(
    'oiiotool',
    '--create',
    '640x360',
    '3',
    '--fill:color=0.5,0.5,0.5',
    '32x16+100+50',
    '-o',
    scratch('spot.exr'),
  );
  tool(
    'oiiotool',
    ...[samplePath('all.exr'), '--ch', 'R,G,B', scratch('spot.exr'), '--add', '-o', scratch('lit.exr')],
  );
  tool('oiiotool', samplePath('all.exr'), '--ch', 'depth.Z', '--chnames', 'fog', '-o', scratch('fog.exr'));
  tool(
    'oiiotool',
    ...[
      samplePath('object_only_zips.exr'),
      scratch('lit.exr'),
      '--chappend',
      scratch('fog.exr'),
      '--chappend',
    ],
    ...['-o', scratch('later.exr')],
  );
  const [before, after] = await Promise.all([
    frameOf(sampleBytes('all.exr')),
    frameOf(readScratch('later.exr')),
  ]);
  const { passes, layers, difference } = await compareFrames(before, after, 640);
  expect(Object.fromEntries(passes.map((p) => [p.name, p.fate]))).toEqual({
    picture: 'changed',
    CryptoObject: 'same',
    fog: 'came',
    CryptoMaterial: 'went',
    depth: 'went',
  });
  expect(layers).toEqual([{ name: 'CryptoObject', members: [] }]);
  expect(difference!.pixels).toBe(32 * 16);
  const { data, width } = difference!.picture;
  expect([data[4 * (50 * width + 100)]! > 0, data[4 * (49 * width + 100)]]).toEqual([true, 0]);
});

test('members are told apart by name', async () => {
  const [before, after] = await Promise.all(
    ['object_two_ranks.exr', 'object_only_zips.exr'].map((name) => frameOf(sampleBytes(name))),
  );
  const { layers } = await compareFrames(before!, after!, 64);
  const changed = layers[0]!.members.filter((m) => m.fate === 'changed');
  // With two ranks only, what lies behind others covers fewer pixels.
  expect(changed.length).toBeGreaterThan(0);
  expect(changed.every((m) => m.pixels[1] >= m.pixels[0])).toBe(true);
});
