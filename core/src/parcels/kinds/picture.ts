import { listedChanges } from '../../changes/listed.ts';
import { withCorrected } from '../../exports/corrected-channels.ts';
import { correctedPlanes } from '../../exports/corrected-planes.ts';
import { asFloats } from '../../formats/exr/samples.ts';
import type { PixelType } from '../../formats/exr/types.ts';
import { WRITABLE_COMPRESSIONS } from '../../formats/exr/write.ts';
import { boxHeight, boxWidth } from '../../planes/box.ts';
import type { Field } from '../../fields/field.ts';
import type { Frame } from '../../version/frame.ts';
import type { OpenPicture } from '../../version/open-picture.ts';
import type { RgbPlanes } from '../../planes/rgb-planes.ts';
import { inDepths, parseDepths } from '../exr/depths.ts';
import { inWindow, ownCompression, sortedIntoParts, type WrittenPart } from '../exr/parts.ts';
import { exrFile, rasterFile } from '../made.ts';
import type { ParcelEnv, ParcelKind, ParcelRequest } from '../kind.ts';
import { rasterFormat } from '../raster/formats.ts';
import { quantise } from '../raster/quantise.ts';
import { profileFor, shownSamples, writtenTransform } from '../raster/screen.ts';
import { CROP, DITHER, formatField, PROFILE, QUALITY, TRANSFORM, WINDOW } from '../raster/usual-fields.ts';
import { placesIn, writtenWindow } from '../raster/windows.ts';

const TYPE: Field = {
  kind: 'choice',
  key: 'type',
  label: 'Picture in EXR',
  options: [
    { value: 'source', label: 'as in the source' },
    { value: 'half', label: '16-bit half' },
    { value: 'float', label: '32-bit float' },
  ],
  neutral: 'source',
};
const COMPRESSION: Field = {
  kind: 'choice',
  key: 'compression',
  label: 'EXR packed by',
  options: [
    { value: 'source', label: 'what the source has' },
    ...WRITABLE_COMPRESSIONS.map((name) => ({ value: name, label: name })),
  ],
  neutral: 'source',
};
const OTHERS: Field = { kind: 'switch', key: 'others', label: 'Keep all other channels', neutral: true };
const PARTS: Field = {
  kind: 'choice',
  key: 'parts',
  label: 'Parts of the EXR',
  options: [
    { value: 'one', label: 'everything in one' },
    { value: 'source', label: 'a part for each that the source has' },
  ],
  neutral: 'one',
};
const DEPTHS: Field = {
  kind: 'text',
  key: 'depths',
  label: 'Depth of channels',
  hint: 'normals.*=half, depth.Z=float',
  neutral: '',
};

function asExr(
  frame: Frame,
  open: OpenPicture,
  planes: RgbPlanes,
  { settings: s }: ParcelRequest,
  env: ParcelEnv,
) {
  const type = s['type'] === 'source' ? undefined : (s['type'] as PixelType);
  const { channels, beyond } = withCorrected(open, planes, type);
  if (beyond)
    env.onNote?.(
      `${beyond} pixels are brighter than half floats can hold (65504) and became infinite. Write them as 32-bit float, or darken them.`,
    );
  const { header } = open.image;
  const own = s['others'] === false ? ownNames(open) : undefined;
  const kept = inDepths(
    open,
    channels.filter((c) => !own || own.has(c.name)),
    parseDepths(s['depths'] as string),
  );
  const window = writtenWindow(header, s);
  const parts: WrittenPart[] =
    s['parts'] === 'source'
      ? sortedIntoParts(frame, kept, window, open.beauty!.r)
      : [
          {
            ...header,
            dataWindow: window,
            channels: inWindow(kept, header.dataWindow, window),
            compression: ownCompression(header),
          },
        ];
  const wanted = s['compression'] as string;
  return exrFile('', wanted === 'source' ? parts : parts.map((p) => ({ ...p, compression: wanted })), env);
}

/** Names of the picture's own channels, also of those that a grey picture becomes. */
function ownNames({ beauty }: OpenPicture): Set<string> {
  const { r, g, b, a } = beauty!;
  return new Set(['R', 'G', 'B', r, g, b, ...(a ? [a] : [])]);
}

/** The corrected picture: as EXR with everything that came with it, or for a screen. */
export const picture: ParcelKind = {
  kind: 'picture',
  label: 'Corrected picture',
  hint: 'For those who go on with it, or for looking at.',
  fields: [
    formatField(true),
    TYPE,
    COMPRESSION,
    OTHERS,
    PARTS,
    DEPTHS,
    TRANSFORM,
    PROFILE,
    DITHER,
    QUALITY,
    WINDOW,
    CROP,
  ],
  varies: true,
  reads: 'applied',
  ofPicture: true,
  per: 'frame',
  parts: ({ settings }) => [
    {
      part: '',
      ending: settings['format'] === 'exr' ? '.exr' : rasterFormat(settings['format'] as string).ending,
    },
  ],
  bytesPerPixel: (s) =>
    s['format'] === 'exr'
      ? s['others'] === false
        ? 6
        : 60
      : 3 * rasterFormat(s['format'] as string).bytesPerPixel,
  async make(frame, request, env) {
    const { settings: s } = request;
    const open = await frame.open();
    const planes = await correctedPlanes(open, listedChanges(request.list, request), env);
    if (s['format'] === 'exr') return [asExr(frame.frame, open, planes, request, env)];
    const format = rasterFormat(s['format'] as string);
    const { header } = open.image;
    const window = writtenWindow(header, s);
    const channel = format.alpha ? open.image.channels.find((c) => c.name === open.beauty!.a) : undefined;
    const transform = writtenTransform(s);
    const samples = shownSamples(
      planes,
      placesIn(header.dataWindow, window),
      transform,
      channel && asFloats(channel),
    );
    return [
      rasterFile(
        '',
        format,
        {
          width: boxWidth(window),
          height: boxHeight(window),
          channels: channel ? 4 : 3,
          data: quantise(samples, format.depth, s['dither'] === true),
        },
        {
          profile: s['profile'] === true ? profileFor(transform) : undefined,
          quality: s['quality'] as number,
          zlib: env.zlib,
        },
      ),
    ];
  },
};
