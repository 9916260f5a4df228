import type { GeoTIFFImage } from 'geotiff';
import { ExrError } from '../exr/errors.ts';
import { profileName } from '../profile.ts';
import { rasterHeader, rasterImage, rasterOutline, type Raster } from '../raster.ts';
import type { ImageReader } from '../reader.ts';
import { boundDecoders, COMPRESSIONS } from './decoders.ts';

const damaged = () => new ExrError('damaged', 'The TIFF file cannot be read. Copy or save it again.');

let loaded: Promise<typeof import('geotiff')> | undefined;
/** Loaded when there is such a file. */
const geotiff = () =>
  (loaded ??= import('geotiff').then(async (own) => {
    await boundDecoders(own);
    return own;
  }));

/** A tile may be larger than its picture, but not without end. */
const LARGEST_TILE = 4096 * 4096;

/** The first picture of the file, and what it is. */
async function open(bytes: Uint8Array): Promise<{ image: GeoTIFFImage; raster: Raster }> {
  const { fromArrayBuffer } = await geotiff();
  let image: GeoTIFFImage;
  let bits: number;
  let compression: number;
  let format: number;
  let icc: unknown;
  try {
    // A copy of its own: the package wants a whole buffer, and not a shared one.
    image = await (await fromArrayBuffer(bytes.slice().buffer)).getImage();
    bits = image.getBitsPerSample();
    // The package begins to unpack before it looks at these, and then nobody hears what else is damaged.
    const each = Array.from(
      ((await image.fileDirectory.loadValue('BitsPerSample')) ?? [bits]) as ArrayLike<number>,
    );
    const planar = image.fileDirectory.getValue('PlanarConfiguration') ?? 1;
    if (each.length !== image.getSamplesPerPixel() || each.some((b) => b !== bits)) throw damaged();
    if (planar !== 1 && planar !== 2) throw damaged();
    format = image.getSampleFormat();
    // Tag of an ICC profile (TIFF/EP).
    icc = await image.fileDirectory.loadValue(34675).catch(() => undefined);
    compression = Number(image.fileDirectory.getValue('Compression') ?? 1);
  } catch {
    throw damaged();
  }
  const whole = format === 1 && (bits === 8 || bits === 16);
  if (!whole && !(format === 3 && bits === 32))
    throw new ExrError(
      'unsupported',
      `TIFF with ${bits} bits a sample cannot be read. Save it with 8 or 16 bits, or as 32-bit floating point.`,
    );
  if (!(compression in COMPRESSIONS))
    throw new ExrError(
      'unsupported',
      `TIFF with compression number ${compression} cannot be read. Save it with LZW or ZIP.`,
    );
  const tile = image.getTileWidth() * image.getTileHeight();
  if (tile > Math.max(LARGEST_TILE, image.getWidth() * image.getHeight())) throw damaged();
  const raster: Raster = {
    width: image.getWidth(),
    height: image.getHeight(),
    bits: bits as Raster['bits'],
    channels: image.getSamplesPerPixel(),
    compression: COMPRESSIONS[compression]!,
    profile: profileOf(icc),
  };
  return { image, raster };
}

/** What is told of a profile; sRGB is what whole numbers mean anyway. */
function profileOf(icc: unknown): string | undefined {
  if (!(icc instanceof Uint8Array)) return undefined;
  const name = profileName(icc);
  return /srgb/i.test(name) ? undefined : `the colour profile “${name}”`;
}

export const tiffReader: ImageReader = {
  format: 'tiff',
  label: 'TIFF',
  endings: ['tif', 'tiff'],
  mediaType: 'image/tiff',
  sniff: (head) =>
    (head[0] === 0x49 && head[1] === 0x49 && (head[2] === 42 || head[2] === 43)) ||
    (head[0] === 0x4d && head[1] === 0x4d && (head[3] === 42 || head[3] === 43)),
  async outline(bytes) {
    return rasterOutline((await open(bytes)).raster);
  },
  async read(bytes, crew, options = {}) {
    const { image, raster } = await open(bytes);
    // Refuses what is too large before anything is unpacked.
    rasterHeader(raster);
    let samples: ArrayLike<number>;
    try {
      samples = (await image.readRasters({ interleave: true })) as unknown as ArrayLike<number>;
    } catch {
      throw damaged();
    }
    return rasterImage(raster, samples, options, (size) => crew.allocate(size));
  },
  blocks: () => undefined,
};
