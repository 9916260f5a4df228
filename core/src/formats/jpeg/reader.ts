import { ExrError } from '../exr/errors.ts';
import { rasterHeader, rasterImage, rasterOutline, type Raster } from '../raster.ts';
import type { ImageReader } from '../reader.ts';

/** Size from the frame header (ITU T.81, B.2.2), found by walking through the markers before it. */
function rasterOf(bytes: Uint8Array): Raster {
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
      return { width, height, bits: 8, channels: 3, compression: 'jpeg' };
    }
    at += 2 + ((bytes[at + 2]! << 8) | bytes[at + 3]!);
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
