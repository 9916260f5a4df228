import { decode, encode } from 'fast-png';
import jpeg from 'jpeg-js';
import { writeJpeg } from '../../formats/jpeg/write.ts';
import { LINEAR_CHUNK, profileChunk, withChunks } from '../../formats/png/chunks.ts';
import type { SampleRaster } from '../../formats/sample-raster.ts';
import { writeTiff } from '../../formats/tiff/write.ts';
import { portableZlib } from '../../formats/exr/portable-zlib.ts';
import type { Zlib } from '../../formats/exr/compression/compression.ts';

/** What a raster is written with. */
export interface RasterOptions {
  /** An ICC profile; none means that the values are data. */
  profile?: Uint8Array | undefined;
  /** Of JPEG, 1 to 100. */
  quality?: number;
  zlib?: Zlib | undefined;
}

/** A form in which pictures for a screen, and masks, are written. */
export interface RasterFormat {
  format: string;
  label: string;
  ending: string;
  mediaType: string;
  depth: 8 | 16 | 32;
  /** Whether it holds alpha. */
  alpha: boolean;
  /** Whether what is read again is exactly what was written. */
  exact: boolean;
  bytesPerPixel: number;
  write(raster: SampleRaster, options: RasterOptions): Uint8Array;
  /** Samples of a written file, in the same order. */
  read(bytes: Uint8Array): Promise<SampleRaster['data']> | SampleRaster['data'];
}

const png = (depth: 8 | 16): RasterFormat => ({
  format: `png${depth}`,
  label: `PNG, ${depth} bit`,
  ending: '.png',
  mediaType: 'image/png',
  depth,
  alpha: true,
  exact: true,
  bytesPerPixel: depth === 8 ? 2 : 5,
  write({ width, height, channels, data }, { profile, zlib = portableZlib }) {
    const file = encode({ width, height, channels, depth, data: data as Uint8Array | Uint16Array });
    return withChunks(file, [profile ? profileChunk(profile, (b) => zlib.deflate(b)) : LINEAR_CHUNK]);
  },
  read: (bytes) => decode(bytes).data as Uint8Array | Uint16Array,
});

const tiff = (depth: 8 | 16 | 32): RasterFormat => ({
  format: `tiff${depth}`,
  label: depth === 32 ? 'TIFF, 32-bit float' : `TIFF, ${depth} bit`,
  ending: '.tif',
  mediaType: 'image/tiff',
  depth,
  alpha: true,
  exact: true,
  bytesPerPixel: depth / 3,
  write: (raster, { profile, zlib }) => writeTiff(raster, { profile, zlib }),
  async read(bytes) {
    // Loaded where it is wanted.
    const { fromArrayBuffer } = await import('geotiff');
    const image = await (await fromArrayBuffer(bytes.slice().buffer)).getImage();
    return (await image.readRasters({ interleave: true })) as unknown as SampleRaster['data'];
  },
});

/** Every form there is, in the order in which the interface offers them. */
export const RASTER_FORMATS: readonly RasterFormat[] = [
  png(8),
  png(16),
  tiff(8),
  tiff(16),
  tiff(32),
  {
    format: 'jpeg',
    label: 'JPEG',
    ending: '.jpg',
    mediaType: 'image/jpeg',
    depth: 8,
    alpha: false,
    exact: false,
    bytesPerPixel: 0.5,
    write: (raster, { quality = 92, profile }) => writeJpeg(raster, quality, profile),
    read: (bytes) => {
      const { data } = jpeg.decode(bytes, { useTArray: true, formatAsRGBA: false, maxMemoryUsageInMB: 4096 });
      return new Uint8Array(data);
    },
  },
];

export const rasterFormat = (format: string): RasterFormat =>
  RASTER_FORMATS.find((f) => f.format === format) ?? RASTER_FORMATS[0]!;

/** Reads a file again and compares it with what it was made of; says what is wrong, or nothing. */
export async function verifyRaster(
  { exact, read, label }: RasterFormat,
  bytes: Uint8Array,
  { data }: SampleRaster,
): Promise<string> {
  const found = await read(bytes);
  if (found.length !== data.length) return `The ${label} has another size than was computed.`;
  if (!exact) return '';
  const at = data.findIndex((v, i) => !Object.is(v, found[i]) && v !== found[i]);
  return at < 0 ? '' : `The ${label} does not hold what was computed.`;
}
