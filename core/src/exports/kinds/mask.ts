import { tilesAcross } from '../../planes/tiles.ts';
import { maskToPng } from '../../formats/png/write.ts';
import { ChangeMask } from '../../masks/change-mask.ts';
import { VersionError } from '../../version/open-frame.ts';
import type { OpenPicture } from '../../version/open-picture.ts';
import { EXR, PNG, type ExportKind, type ExportRequest } from '../export-kind.ts';
import { maskToExr } from '../mask-file.ts';

function coverageOf(open: OpenPicture, { list, changeId }: ExportRequest): Float32Array {
  const change = list.changes.find((c) => c.id === changeId);
  if (!change) throw new VersionError('The change whose mask was asked for is not in the list any more.');
  const { width, height } = open;
  const mask = new ChangeMask(open.cast, {
    pixels: width * height,
    tiles: tilesAcross(width) * tilesAcross(height),
  });
  mask.update(change.who);
  // Nothing picked covers nothing.
  return mask.coverage.length ? mask.coverage : new Float32Array(width * height);
}

export const maskExr: ExportKind = {
  kind: 'mask-exr',
  label: 'Mask of one change, EXR',
  note: '32-bit float coverage in a channel Y.',
  of: 'change',
  ...EXR,
  write: (open, request, { zlib }) =>
    maskToExr(coverageOf(open, request), open.image.header, zlib ? { zlib } : {}),
};

export const maskPng: ExportKind = {
  kind: 'mask-png',
  label: 'Mask of one change, PNG 16 bit',
  note: 'Coverage as grey, no gamma.',
  of: 'change',
  ...PNG,
  write: (open, request) => maskToPng(coverageOf(open, request), open.image.header),
};
