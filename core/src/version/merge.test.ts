import { sample } from '../../test/fixtures/samples.ts';
import { ExrError } from '../formats/exr/errors.ts';
import { mergeImages } from './merge.ts';
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
    expect(() => mergeImages([picture, sample('object_overscan.exr')])).toThrow(ExrError);
    expect(() => mergeImages([picture, sample('object_overscan.exr')])).toThrow('size of the picture');
  });
});
