import { maskToPng } from '../../formats/png/write.ts';
import { maskOfChange } from '../../apply/mask-of-change.ts';
import { listedChanges } from '../../changes/listed.ts';
import { VersionError } from '../../version/version-error.ts';
import type { OpenPicture } from '../../version/open-picture.ts';
import { EXR, PNG, type ExportKind, type ExportRequest } from '../export-kind.ts';
import { maskToExr } from '../mask-file.ts';

function coverageOf(open: OpenPicture, request: ExportRequest): Float32Array {
  const change = listedChanges(request.list, request).find((c) => c.id === request.changeId);
  if (!change) throw new VersionError('The change whose mask was asked for is not in the list any more.');
  return maskOfChange(open, change).flat();
}

export const maskExr: ExportKind = {
  kind: 'mask-exr',
  label: 'Mask of one change, EXR',
  note: '32-bit float coverage in a channel Y.',
  of: 'change',
  ...EXR,
  write: async (open, request, { zlib, signal }) =>
    maskToExr(coverageOf(open, request), open.image.header, { zlib, signal }),
};

export const maskPng: ExportKind = {
  kind: 'mask-png',
  label: 'Mask of one change, PNG 16 bit',
  note: 'Coverage as grey, no gamma.',
  of: 'change',
  ...PNG,
  write: async (open, request) => maskToPng(coverageOf(open, request), open.image.header),
};
