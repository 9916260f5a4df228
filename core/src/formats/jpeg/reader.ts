import { ExrError } from '../exr/errors.ts';
import { profileName } from '../profile.ts';
import { rasterHeader, rasterImage, rasterOutline, type Raster } from '../raster.ts';
import type { ImageReader } from '../reader.ts';
import { jpegSize } from './size.ts';

/** How a profile begins: `ICC_PROFILE` and a zero. */
const ICC = [...'ICC_PROFILE\0'].map((c) => c.charCodeAt(0));

function rasterOf(bytes: Uint8Array): Raster {
  let profile: string | undefined;
  const size = jpegSize(bytes, (marker, at, length) => {
    // The first piece of a profile (ICC.1, B.4); what is in it of a name stands at its beginning.
    if (marker !== 0xe2 || !ICC.every((b, i) => bytes[at + 4 + i] === b)) return;
    const name = profileName(bytes.slice(at + 18, at + 2 + length));
    if (!/srgb/i.test(name)) profile = `the colour profile “${name}”`;
  });
  if (!size) throw new ExrError('damaged', 'The JPEG file has no picture in it.');
  return { ...size, bits: 8, channels: 3, compression: 'jpeg', profile };
}

export const jpegReader: ImageReader = {
  format: 'jpeg',
  label: 'JPEG',
  endings: ['jpg', 'jpeg'],
  mediaType: 'image/jpeg',
  sniff: (head) => head[0] === 0xff && head[1] === 0xd8 && head[2] === 0xff,
  outline: (bytes) => rasterOutline(rasterOf(bytes)),
  async read(bytes, crew, options = {}) {
    const raster = rasterOf(bytes);
    // Refuses what is too large before anything is unpacked.
    rasterHeader(raster);
    // Loaded when there is such a file.
    const { default: jpeg } = await import('jpeg-js');
    let data: Uint8Array;
    try {
      ({ data } = jpeg.decode(bytes.slice(), {
        useTArray: true,
        formatAsRGBA: false,
        maxResolutionInMP: 300,
        maxMemoryUsageInMB: 4096,
      }));
    } catch {
      throw new ExrError('damaged', 'The JPEG file cannot be unpacked. Copy or save it again.');
    }
    return rasterImage(raster, data, options, (size) => crew.allocate(size));
  },
  blocks: () => undefined,
};
