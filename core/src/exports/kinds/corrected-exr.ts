import { listedChanges } from '../../changes/listed.ts';
import { correctedPlanes } from '../corrected-planes.ts';
import type { PixelType } from '../../formats/exr/types.ts';
import { writeExr } from '../../formats/exr/write.ts';
import { withCorrected } from '../corrected-channels.ts';
import { EXR, type ExportKind } from '../export-kind.ts';

/** The corrected picture in the file it came in: every other channel and attribute as it was. */
const corrected = (kind: string, label: string, note: string, type?: PixelType): ExportKind => ({
  kind,
  label,
  note,
  of: 'picture',
  ...EXR,
  async write(open, request, env) {
    const { zlib, signal, onNote } = env;
    const planes = await correctedPlanes(open, listedChanges(request.list, request), env);
    const { channels, beyond } = withCorrected(open, planes, type);
    if (beyond)
      onNote?.(
        `${beyond} pixels are brighter than half floats can hold (65504) and became infinite. Write them as 32-bit float, or darken them.`,
      );
    const { header } = open.image;
    return writeExr({ ...header, channels }, { compression: header.compression, zlib, signal });
  },
});

export const correctedExr = corrected(
  'corrected-exr',
  'Corrected picture, EXR',
  'Scene-linear, as exact as the source; all other channels are kept as they are.',
);
export const correctedExrHalf = corrected(
  'corrected-exr-half',
  'Corrected picture, EXR half',
  'The picture in 16 bits; all other channels are kept as they are.',
  'half',
);
