import { readExr } from '../formats/exr/read.ts';
import { writeExrParts, type WriteInput } from '../formats/exr/write.ts';
import type { Zlib } from '../formats/exr/compression/compression.ts';
import type { SampleRaster } from '../formats/sample-raster.ts';
import type { MadeFile } from './kind.ts';
import { verifyRaster, type RasterFormat, type RasterOptions } from './raster/formats.ts';

/** A picture for a screen, or a mask, as a file that can be read again and compared. */
export function rasterFile(
  part: string,
  format: RasterFormat,
  raster: SampleRaster,
  options: RasterOptions,
): MadeFile {
  const bytes = format.write(raster, options);
  const { ending, mediaType } = format;
  return { part, ending, mediaType, bytes, verify: () => verifyRaster(format, bytes, raster) };
}

const sameBytes = (a: ArrayBufferView, b: ArrayBufferView): boolean => {
  const [x, y] = [a, b].map((v) => new Uint8Array(v.buffer, v.byteOffset, v.byteLength)) as [
    Uint8Array,
    Uint8Array,
  ];
  return x.length === y.length && x.every((v, i) => v === y[i]);
};

/** An EXR of one part or several, that is compared bit for bit when it is read again. */
export function exrFile(
  part: string,
  parts: readonly (WriteInput & { compression?: string })[],
  { zlib, signal }: { zlib?: Zlib | undefined; signal?: AbortSignal | undefined },
): MadeFile {
  const bytes = writeExrParts(parts, { zlib, signal });
  return {
    part,
    ending: '.exr',
    mediaType: 'image/x-exr',
    bytes,
    verify() {
      for (const [i, { channels }] of parts.entries()) {
        const read = readExr(bytes, { part: i }).channels;
        const lost = channels.find(
          (c) => !sameBytes(c.data, read.find((r) => r.name === c.name)?.data ?? new Uint8Array(0)),
        );
        if (lost) return `The EXR does not hold what was computed in its channel ${lost.name}.`;
      }
      return '';
    },
  };
}

/** A text as a file; what is written is what is there. */
export function textFile(part: string, ending: string, mediaType: string, text: string): MadeFile {
  const bytes = new TextEncoder().encode(text);
  return {
    part,
    ending,
    mediaType,
    bytes,
    verify: () => (new TextDecoder().decode(bytes) === text ? '' : 'The text is damaged.'),
  };
}
