import type { decode } from 'fast-png';
import { soundText } from '../../findings/sound-text.ts';
import { ExrError } from '../exr/errors.ts';
import { rasterHeader, rasterImage, rasterOutline, type Raster } from '../raster.ts';
import type { ImageReader } from '../reader.ts';
import { boundedPng } from './bounded.ts';
import { PNG_SIGNATURE } from './chunks.ts';

/** Samples of a pixel by PNG's colour type; a palette is unfolded to colours. */
const CHANNELS: Record<number, number> = { 0: 1, 2: 3, 3: 3, 4: 2, 6: 4 };

/** What the first chunk says. */
function rasterOf(bytes: Uint8Array): Raster {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (bytes.length < 33) throw new ExrError('truncated', 'The PNG file ends in its header.');
  const channels = CHANNELS[bytes[25]!];
  if (!channels) throw new ExrError('damaged', 'The PNG file has an unknown kind of colour.');
  return {
    width: view.getUint32(16),
    height: view.getUint32(20),
    bits: bytes[24] === 16 ? 16 : 8,
    channels,
    compression: 'deflate',
    profile: profileOf(bytes),
  };
}

/** A colour profile or a gamma that the chunks before the pixels hold; sRGB is what the format means anyway. */
function profileOf(bytes: Uint8Array): string | undefined {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  let gamma: string | undefined;
  for (let at = 8; at + 12 <= bytes.length;) {
    const length = view.getUint32(at);
    const name = String.fromCharCode(...bytes.subarray(at + 4, at + 8));
    if (name === 'IDAT' || at + 12 + length > bytes.length) break;
    const data = bytes.subarray(at + 8, at + 8 + length);
    if (name === 'sRGB') return undefined;
    // Its name stands before it, packed or not.
    if (name === 'iCCP') {
      const end = data.indexOf(0);
      const text = new TextDecoder('latin1').decode(data.slice(0, Math.max(0, end)));
      return /srgb/i.test(text) ? undefined : `the colour profile “${soundText(text) || 'without a name'}”`;
    }
    if (name === 'gAMA' && length === 4) {
      const value = view.getUint32(at + 8) / 100_000;
      // That of sRGB, near enough.
      if (Math.abs(value - 0.45455) > 0.01) gamma = `a gamma of ${(1 / value).toFixed(2)}`;
    }
    at += 12 + length;
  }
  return gamma;
}

export const pngReader: ImageReader = {
  format: 'png',
  label: 'PNG',
  endings: ['png'],
  mediaType: 'image/png',
  sniff: (head) => PNG_SIGNATURE.every((b, i) => head[i] === b),
  outline: (bytes) => rasterOutline(rasterOf(bytes)),
  async read(bytes, crew, options = {}) {
    const raster = rasterOf(bytes);
    // Refuses what is too large before anything is unpacked.
    rasterHeader(raster);
    // Loaded when there is such a file.
    const own = await import('fast-png');
    let png: ReturnType<typeof decode>;
    try {
      png = own.decode(boundedPng(bytes));
    } catch (error) {
      if (error instanceof ExrError) throw error;
      throw new ExrError('damaged', 'The PNG file cannot be unpacked. Copy or save it again.');
    }
    return rasterImage(raster, unfolded(png, raster), options, (size) => crew.allocate(size));
  },
  blocks: () => undefined,
};

/** Samples in 8 or 16 bits: palettes as their colours, fewer bits stretched to 8. */
function unfolded(png: ReturnType<typeof decode>, { width, height, channels }: Raster): ArrayLike<number> {
  const { depth, palette, data } = png;
  if (!palette && depth >= 8) return data;
  const perRow = Math.ceil((width * depth * (palette ? 1 : channels)) / 8);
  const most = 2 ** depth - 1;
  const out = new Uint8Array(width * height * channels);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const bit = x * depth;
      const byte = data[y * perRow + (bit >> 3)]!;
      const value = depth >= 8 ? byte : (byte >> (8 - depth - (bit & 7))) & most;
      const at = (y * width + x) * channels;
      if (palette) for (let k = 0; k < 3; k++) out[at + k] = palette[value]?.[k] ?? 0;
      else out[at] = Math.round((255 * value) / most);
    }
  return out;
}
