import { ExrError } from '../exr/errors.ts';
import { profileName } from '../profile.ts';
import { rasterHeader, rasterImage, rasterOutline, type Raster } from '../raster.ts';
import type { ImageReader } from '../reader.ts';

/** How a profile begins: `ICC_PROFILE` and a zero. */
const ICC = [...'ICC_PROFILE\0'].map((c) => c.charCodeAt(0));

/** Size from the frame header (ITU T.81, B.2.2), found by walking through the markers before it. */
function rasterOf(bytes: Uint8Array): Raster {
  let profile: string | undefined;
  for (let at = 2; at + 9 < bytes.length;) {
    if (bytes[at] !== 0xff) break;
    const marker = bytes[at + 1]!;
    // Fill bytes before a marker.
    if (marker === 0xff) {
      at++;
      continue;
    }
    const frame = marker >= 0xc0 && marker <= 0xcf && ![0xc4, 0xc8, 0xcc].includes(marker);
    if (frame) {
      const height = (bytes[at + 5]! << 8) | bytes[at + 6]!;
      const width = (bytes[at + 7]! << 8) | bytes[at + 8]!;
      return { width, height, bits: 8, channels: 3, compression: 'jpeg', profile };
    }
    const length = (bytes[at + 2]! << 8) | bytes[at + 3]!;
    // The first piece of a profile (ICC.1, B.4); what is in it of a name stands at its beginning.
    if (marker === 0xe2 && ICC.every((b, i) => bytes[at + 4 + i] === b)) {
      const name = profileName(bytes.slice(at + 18, at + 2 + length));
      if (!/srgb/i.test(name)) profile = `the colour profile “${name}”`;
    }
    at += 2 + length;
  }
  throw new ExrError('damaged', 'The JPEG file has no picture in it.');
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
