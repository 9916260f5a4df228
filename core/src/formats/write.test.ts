import { decode, encode } from 'fast-png';
import fc from 'fast-check';
import { fromArrayBuffer } from 'geotiff';
import { inflateSync } from 'node:zlib';
import { runs } from '../../test/runs.ts';
import { tool, writeScratch } from '../../test/fixtures/tools.ts';
import { withChunks, profileChunk, LINEAR_CHUNK } from './png/chunks.ts';
import { profileName } from './profile.ts';
import { iccProfile } from './profile-write.ts';
import { portableZlib } from './exr/portable-zlib.ts';
import type { SampleRaster } from './sample-raster.ts';
import { writeTiff } from './tiff/write.ts';

/** Rasters of any size, depth and number of channels, read again by packages that did not write them. */
const rasters = fc
  .record({
    width: fc.integer({ min: 1, max: 70 }),
    height: fc.integer({ min: 1, max: 50 }),
    channels: fc.constantFrom(1 as const, 3 as const, 4 as const),
    depth: fc.constantFrom(8, 16, 32),
    seed: fc.nat(),
  })
  .map(({ width, height, channels, depth, seed }): SampleRaster => {
    const length = width * height * channels;
    const value = (i: number) => Math.imul(i + seed, 2654435761) >>> 0;
    const data =
      depth === 8
        ? Uint8Array.from({ length }, (_, i) => value(i) >>> 24)
        : depth === 16
          ? Uint16Array.from({ length }, (_, i) => value(i) >>> 16)
          : Float32Array.from({ length }, (_, i) => value(i) / 2 ** 30 - 1);
    return { width, height, channels, data };
  });

test('a TIFF holds every sample, whatever its size', async () => {
  await fc.assert(
    fc.asyncProperty(rasters, async (raster) => {
      const bytes = writeTiff(raster);
      const image = await (await fromArrayBuffer(bytes.slice().buffer)).getImage();
      expect([image.getWidth(), image.getHeight(), image.getSamplesPerPixel()]).toEqual([
        raster.width,
        raster.height,
        raster.channels,
      ]);
      const read = (await image.readRasters({ interleave: true })) as unknown as ArrayLike<number>;
      expect(Array.from(read)).toEqual(Array.from(raster.data));
    }),
    { numRuns: runs(60) },
  );
});

test('a TIFF of several strips, with a profile and multiplied alpha, is sound to oiiotool', () => {
  const [width, height] = [700, 301];
  const data = Uint16Array.from({ length: 4 * width * height }, (_, i) => (i * 31) & 65535);
  const profile = iccProfile({ name: 'Rec. 709, gamma 2.4', curve: 2.4 });
  const path = writeScratch(
    'strips.tif',
    writeTiff({ width, height, channels: 4, data, premultiplied: true }, { profile }),
  );
  const told = tool('oiiotool', '--info', '-v', '--stats', path);
  expect(told).toMatch(/700 x +301, 4 channel, uint16 tiff/);
  expect(told).toMatch(/profile_description: "Rec\. 709, gamma 2\.4"/);
  expect(told).not.toMatch(/UnassociatedAlpha/);
});

test('a PNG with chunks is what it was, and says what its values mean', () => {
  const data = Uint8Array.from({ length: 3 * 9 * 7 }, (_, i) => i);
  const png = encode({ width: 9, height: 7, channels: 3, depth: 8, data });
  const profile = iccProfile({ name: 'sRGB', curve: 'srgb' });
  const marked = withChunks(png, [profileChunk(profile, (b) => portableZlib.deflate(b))]);
  const { data: read, iccEmbeddedProfile } = decode(marked);
  expect(read).toEqual(data);
  expect(iccEmbeddedProfile?.profile).toEqual(profile);
  const at = Buffer.from(marked).indexOf('iCCP');
  const length = Buffer.from(marked).readUInt32BE(at - 4);
  expect(new Uint8Array(inflateSync(marked.subarray(at + 9, at + 4 + length)))).toEqual(profile);
  // A damaged sum would be refused.
  expect(
    tool('oiiotool', '--info', '-v', writeScratch('linear.png', withChunks(png, [LINEAR_CHUNK]))),
  ).toMatch(/oiio:Gamma: 1|linear/);
});

test('a profile says its name, and its curve is the one it is named for', () => {
  const profile = iccProfile({ name: 'sRGB', curve: 'srgb' });
  expect(profileName(profile)).toBe('sRGB');
  const view = new DataView(profile.buffer);
  expect([view.getUint32(0), profile.length % 4]).toEqual([profile.length, 0]);
  const tags = Array.from(
    { length: view.getUint32(128) },
    (_, i) =>
      [
        String.fromCharCode(...profile.subarray(132 + 12 * i, 136 + 12 * i)),
        view.getUint32(136 + 12 * i),
      ] as const,
  );
  const trc = new Map(tags).get('gTRC')!;
  const [g, a, b, c, d] = [0, 1, 2, 3, 4].map((i) => view.getInt32(trc + 12 + 4 * i) / 65536) as [
    number,
    number,
    number,
    number,
    number,
  ];
  // IEC 61966-2-1, at a dark and at a light value.
  expect(c * 0.03).toBeCloseTo(0.03 / 12.92, 4);
  expect(d).toBeCloseTo(0.04045, 4);
  expect((a * 0.5 + b) ** g).toBeCloseTo(((0.5 + 0.055) / 1.055) ** 2.4, 4);
  // Primaries add up to the white of the connection space.
  const white = ['rXYZ', 'gXYZ', 'bXYZ'].map((key) =>
    [0, 1, 2].map((i) => view.getInt32(new Map(tags).get(key)! + 8 + 4 * i) / 65536),
  );
  [0.9642, 1, 0.8249].forEach((w, i) => expect(white.reduce((sum, p) => sum + p[i]!, 0)).toBeCloseTo(w, 3));
});
