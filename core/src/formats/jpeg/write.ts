import jpeg from 'jpeg-js';
import type { SampleRaster } from '../sample-raster.ts';

const NAME = Uint8Array.from('ICC_PROFILE\0', (c) => c.charCodeAt(0));

/**
 * A picture of 8 bits as a baseline JPEG.
 * @param quality 1 to 100; @param profile an ICC profile to embed (ICC.1:2022, B.4), of less than 65 kB
 */
export function writeJpeg(
  { width, height, channels, data }: SampleRaster,
  quality: number,
  profile?: Uint8Array,
): Uint8Array {
  const rgba = new Uint8Array(4 * width * height);
  for (let p = 0; p < width * height; p++) {
    for (let k = 0; k < 3; k++) rgba[4 * p + k] = data[p * channels + (channels === 1 ? 0 : k)]!;
    rgba[4 * p + 3] = 255;
  }
  const file = new Uint8Array(jpeg.encode({ width, height, data: rgba }, quality).data);
  if (!profile) return file;
  const length = 2 + NAME.length + 2 + profile.length;
  const segment = Uint8Array.of(0xff, 0xe2, length >> 8, length & 255, ...NAME, 1, 1, ...profile);
  // After the first segment, which is JFIF's.
  const at = 4 + ((file[4]! << 8) | file[5]!);
  const out = new Uint8Array(file.length + segment.length);
  out.set(file.subarray(0, at));
  out.set(segment, at);
  out.set(file.subarray(at), at + segment.length);
  return out;
}
