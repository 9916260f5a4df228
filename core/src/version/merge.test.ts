import { nodeCrew } from '../../node/crew.ts';
import { sample, sampleBytes, worst } from '../../test/fixtures/samples.ts';
import { ExrError } from '../formats/exr/errors.ts';
import { mergeImages } from './merge.ts';
import { reducedPlane } from '../display/pass-picture.ts';
import { asFloats } from '../formats/exr/samples.ts';
import { openFrame } from './open-frame.ts';
import { openPicture } from './open-picture.ts';

describe('files of one frame', () => {
  const picture = sample('all.exr');
  const ids = sample('object_only_zips.exr');

  test('become one picture with the layers of all', () => {
    const bare = {
      header: {
        ...picture.header,
        attributes: picture.header.attributes.filter((a) => !a.name.startsWith('cryptomatte/')),
        channels: picture.header.channels.filter((c) => !c.name.startsWith('Crypto')),
      },
      channels: picture.channels.filter((c) => !c.name.startsWith('Crypto')),
    };
    expect(openPicture(bare).cast).toEqual([]);
    const open = openPicture(mergeImages([bare, ids]));
    expect(open.beauty).toBeDefined();
    expect(open.cast.map((l) => l.name)).toEqual(['CryptoObject']);
    const whole = openPicture(picture).cast[0]!;
    expect(open.cast[0]!.members.map((m) => m.name)).toEqual(whole.members.map((m) => m.name));
    // A header's channels stay in the order that files demand.
    const names = open.image.header.channels.map((c) => c.name);
    expect([...names].sort()).toEqual(names);
    expect(names).toEqual(open.image.channels.map((c) => c.name));
  });

  test('a later file replaces a layer that an earlier one has', () => {
    const changed = ids.channels.map((c) => ({ ...c, data: new Float32Array(c.data.length) }));
    const merged = mergeImages([picture, { ...ids, channels: changed }]);
    const plane = merged.channels.find((c) => c.name === 'CryptoObject00.G')!.data as Float32Array;
    expect(plane.every((v) => v === 0)).toBe(true);
  });

  test('one alone stays as it is, and sizes must agree', () => {
    expect(mergeImages([picture])).toBe(picture);
    const other = { ...picture.header, displayWindow: { xMin: 0, yMin: 0, xMax: 319, yMax: 179 } };
    const merge = () => mergeImages([picture, { ...picture, header: other }]);
    expect(merge).toThrow(ExrError);
    expect(merge).toThrow('size of the picture');
  });
});

describe('an index made while blocks are unpacked', () => {
  test.each([
    ['all.exr', 1],
    ['all.exr', 3],
    ['material_piz.exr', 1],
    ['object_rle.exr', 1],
    ['object_only_zips.exr', 1],
    ['object_overscan.exr', 2],
  ])('%s, with %i thread(s), is that of the whole planes', async (name, threads) => {
    const { crew, end } = nodeCrew(threads);
    const frame = await openFrame(
      [{ role: 'picture', name, frame: null }],
      undefined,
      async () => {
        const bytes = sampleBytes(name);
        const shared = new Uint8Array(crew.allocate(bytes.length));
        shared.set(bytes);
        return shared;
      },
      { crew },
    );
    const whole = openPicture(sample(name)).cast;
    const together = await frame.indexes(frame.layers);
    for (const [i, layer] of frame.layers.entries()) {
      expect(await frame.index(layer)).toEqual(whole[i]!.index);
      expect(together[i]).toEqual(whole[i]!.index);
    }
    // Passes made smaller while their blocks are unpacked are means of squares of the whole planes.
    for (const by of [3, 7]) {
      const small = await frame.reduced((c) => !c.startsWith('Crypto'), by);
      for (const c of sample(name).channels.filter((x) => !x.name.startsWith('Crypto')))
        expect(
          worst(small.get(c.name)!, reducedPlane(asFloats(c), frame.width, frame.height, by)),
        ).toBeLessThan(1e-3);
    }
    await end();
  });
});
