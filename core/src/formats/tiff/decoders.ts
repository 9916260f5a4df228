import type * as geotiff from 'geotiff';
import { inflateUpTo } from '../bounded-inflate.ts';
import { jpegSize } from '../jpeg/size.ts';
import { unpackLzw } from './lzw.ts';
import { unpackBits } from './pack-bits.ts';

/** Those that can be read, with their numbers in a file (TIFF 6.0, section 8, and its later supplements). */
export const COMPRESSIONS: Record<number, string> = {
  1: 'none',
  5: 'lzw',
  7: 'jpeg',
  8: 'deflate',
  32773: 'packbits',
  32946: 'deflate',
};

type Strip = ConstructorParameters<typeof geotiff.BaseDecoder>[0];
type Directory = geotiff.ImageFileDirectory;
type Tag = Parameters<Directory['loadValue']>[0];

/** What a decoder has to know; a strip has no more rows than the picture, whatever the file says. */
async function parametersOf(directory: Directory): Promise<Strip> {
  const value = async (tag: Tag) => Number((await directory.loadValue(tag)) ?? 0);
  const strips = directory.hasTag('StripOffsets');
  const [width, height] = [await value('ImageWidth'), await value('ImageLength')];
  return {
    tileWidth: strips ? width : await value('TileWidth'),
    tileHeight: strips
      ? Math.min(height, (await value('RowsPerStrip')) || height)
      : await value('TileLength'),
    planarConfiguration: (await value('PlanarConfiguration')) || 1,
    bitsPerSample: (await directory.loadValue('BitsPerSample')) as Strip['bitsPerSample'],
    predictor: (await value('Predictor')) || 1,
  };
}

/** Bytes that a strip or a tile may hold. */
function sizeOf({ tileWidth, tileHeight, bitsPerSample, planarConfiguration }: Strip): number {
  const bits: number[] = typeof bitsPerSample === 'number' ? [bitsPerSample] : Array.from(bitsPerSample);
  // Each sample has strips of its own, or all are side by side.
  const together = planarConfiguration === 2 ? Math.max(...bits) : bits.reduce((a, b) => a + b, 0);
  return tileHeight * Math.ceil((tileWidth * together) / 8);
}

/** Has the package unpack by decoders that stop at what a strip or a tile may hold. */
export async function boundDecoders({ addDecoder, BaseDecoder, getDecoder }: typeof geotiff): Promise<void> {
  const bounded = (unpack: (packed: Uint8Array, size: number) => Uint8Array) =>
    class extends BaseDecoder {
      override decodeBlock(buffer: ArrayBufferLike): ArrayBufferLike {
        const size = sizeOf(this.parameters);
        const unpacked = unpack(new Uint8Array(buffer), size);
        // A last strip may be shorter than the others; its missing rows are not looked at.
        if (unpacked.length === unpacked.buffer.byteLength && unpacked.length === size)
          return unpacked.buffer;
        const whole = new Uint8Array(size);
        whole.set(unpacked);
        return whole.buffer;
      }
    };
  const own = [
    [[8, 32946], bounded((packed, size) => inflateUpTo([packed], size))],
    [5, bounded(unpackLzw)],
    [32773, bounded(unpackBits)],
  ] as const;
  for (const [numbers, decoder] of own)
    addDecoder([numbers].flat(), () => Promise.resolve(decoder), parametersOf);
  // JPEG says itself how large it is, which is looked at first. Its tables may stand elsewhere in the file.
  const withTables = async (directory: Directory) => ({
    ...(await parametersOf(directory)),
    JPEGTables: await directory.loadValue('JPEGTables'),
  });
  const none = { tileWidth: 1, tileHeight: 1, predictor: 1, bitsPerSample: 8, planarConfiguration: 1 };
  const JpegDecoder = (await getDecoder(7, none)).constructor as typeof BaseDecoder;
  addDecoder(
    7,
    () =>
      Promise.resolve(
        class extends JpegDecoder {
          override decodeBlock(buffer: ArrayBufferLike): Promise<ArrayBufferLike> | ArrayBufferLike {
            const { tileWidth, tileHeight } = this.parameters;
            const size = jpegSize(new Uint8Array(buffer));
            if (!size || size.width > tileWidth || size.height > tileHeight)
              throw new Error('The JPEG in the file is larger than its strip.');
            return super.decodeBlock(buffer);
          }
        },
      ),
    withTables,
  );
}
