import { applyChanges } from '../../apply/apply-changes.ts';
import { WRITABLE_COMPRESSIONS, writeExr } from '../../formats/exr/write.ts';
import { withCorrected } from '../corrected-channels.ts';
import { EXR, needPicture, type ExportKind } from '../export-kind.ts';

/** The corrected picture in the file it came in: every other channel and attribute as it was. */
export const correctedExr: ExportKind = {
  kind: 'corrected-exr',
  label: 'Corrected picture, EXR',
  note: 'Scene-linear half; all other channels of the source are kept as they are.',
  of: 'picture',
  ...EXR,
  write(open, { list }, { zlib, onProgress }) {
    needPicture(open);
    const planes = applyChanges(open, list.changes, onProgress);
    const { header } = open.image;
    const compression = WRITABLE_COMPRESSIONS.includes(header.compression) ? header.compression : 'zip';
    return writeExr(
      { ...header, channels: withCorrected(open, planes) },
      { compression, ...(zlib ? { zlib } : {}) },
    );
  },
};
