import type { Field } from '../../fields/field.ts';
import { boxHeight, boxWidth, type Box2i } from '../../planes/box.ts';
import type { OpenPicture } from '../../version/open-picture.ts';
import { VersionError } from '../../version/version-error.ts';
import {
  EACH_MEMBER,
  maskedChanges,
  maskName,
  masksOfChanges,
  masksOfMembers,
  type NamedMask,
} from '../coverage.ts';
import { plainChannel } from '../../roles/write/rewrite.ts';
import { exrFile, rasterFile } from '../made.ts';
import type { MadeFile, ParcelEnv, ParcelKind, ParcelRequest } from '../kind.ts';
import { plainNames } from '../naming.ts';
import { rasterFormat } from '../raster/formats.ts';
import { quantise } from '../raster/quantise.ts';
import { CROP, formatField, LAYER, MEMBERS, WINDOW } from '../raster/usual-fields.ts';
import { placesIn, writtenWindow } from '../raster/windows.ts';

const OF: Field = {
  kind: 'choice',
  key: 'of',
  label: 'Of',
  options: [
    { value: 'changes', label: 'the changes' },
    { value: 'members', label: 'members of an ID layer' },
  ],
  neutral: 'changes',
};
const HOW: Field = {
  kind: 'choice',
  key: 'how',
  label: 'Together',
  options: [
    { value: 'one', label: 'one a file' },
    { value: 'three', label: 'three a picture: R, G, B' },
    { value: 'channels', label: 'as channels of one EXR' },
  ],
  neutral: 'one',
};
const REFINED: Field = { kind: 'switch', key: 'refined', label: 'With edge, fence and brush', neutral: true };

/** Masks with names that are different as file names, too. */
function named(masks: readonly NamedMask[]): NamedMask[] {
  const names = plainNames(
    masks.map((m) => m.name),
    'mask',
  );
  return masks.map(({ cover }, i) => ({ name: names[i]!, cover }));
}

/** Masks side by side in a window, as data: no curve, no profile, no dither. */
function side(masks: readonly NamedMask[], data: Box2i, window: Box2i): Float32Array {
  const places = placesIn(data, window);
  const out = new Float32Array(places.length * masks.length);
  masks.forEach(({ cover }, k) => {
    for (let i = 0; i < places.length; i++)
      if (places[i]! >= 0) out[i * masks.length + k] = cover[places[i]!]!;
  });
  return out;
}

function files(
  open: OpenPicture,
  masks: readonly NamedMask[],
  s: ParcelRequest['settings'],
  env: ParcelEnv,
): MadeFile[] {
  const { header } = open.image;
  const [format, how] = [s['format'] as string, s['how'] as string];
  const { dataWindow, displayWindow, pixelAspectRatio } = header;
  const window = writtenWindow(header, s);
  const windows = { dataWindow: window, displayWindow, pixelAspectRatio, compression: 'zip' };
  const channel = (name: string, { cover }: NamedMask) =>
    plainChannel(name, side([{ name, cover }], dataWindow, window));
  if (how === 'channels')
    return [exrFile('masks', [{ ...windows, channels: masks.map((m) => channel(m.name, m)) }], env)];
  const size = { width: boxWidth(window), height: boxHeight(window) };
  const groups = how === 'three' ? threes(masks) : masks.map((m) => [m]);
  return groups.map((group, i) => {
    const part = how === 'three' ? `masks_${i + 1}` : group[0]!.name;
    if (format === 'exr')
      return exrFile(
        part,
        [
          {
            ...windows,
            channels: group.map((m, k) => channel(how === 'three' ? 'RGB'[k]! : 'Y', m)),
          },
        ],
        env,
      );
    const own = rasterFormat(format);
    // A picture of three has three channels, also where masks have run out.
    const planes = how === 'three' ? [0, 1, 2].map((k) => group[k] ?? empty(group[0]!)) : group;
    const channels = how === 'three' ? 3 : 1;
    const samples = quantise(side(planes, dataWindow, window), own.depth, false);
    return rasterFile(part, own, { ...size, channels, data: samples }, { zlib: env.zlib });
  });
}
const empty = ({ cover }: NamedMask): NamedMask => ({ name: '', cover: new Float32Array(cover.length) });
const threes = (masks: readonly NamedMask[]) =>
  Array.from({ length: Math.ceil(masks.length / 3) }, (_, i) => masks.slice(3 * i, 3 * i + 3));

/** Masks as data, for those who go on elsewhere. */
export const masks: ParcelKind = {
  kind: 'masks',
  label: 'Masks',
  hint: 'Coverage as data: never through a display transform.',
  fields: [OF, LAYER, MEMBERS, HOW, REFINED, formatField(true, (f) => f.exact, 'png16'), WINDOW, CROP],
  varies: false,
  reads: 'masks',
  ofPicture: false,
  per: 'frame',
  parts({ list, settings: s }) {
    const ending =
      s['format'] === 'exr' || s['how'] === 'channels' ? '.exr' : rasterFormat(s['format'] as string).ending;
    if (s['how'] === 'channels') return [{ part: 'masks', ending }];
    const changes = s['of'] === 'changes' ? maskedChanges({ list }).map(maskName) : undefined;
    if (s['how'] === 'three') {
      const count = changes ? Math.ceil(changes.length / 3) : 1;
      return Array.from({ length: count }, (_, i) => ({ part: `masks_${i + 1}`, ending }));
    }
    return (changes ? plainNames(changes, 'mask') : [EACH_MEMBER]).map((part) => ({ part, ending }));
  },
  bytesPerPixel: () => 0.3,
  async make(frame, request, env) {
    const { settings: s } = request;
    const open = await frame.open();
    const found =
      s['of'] === 'changes'
        ? masksOfChanges(open, request, s['refined'] !== false)
        : masksOfMembers(open, s['layer'] as string, s['members'] as string);
    if (found.length === 0) throw new VersionError('There is no mask: no change picks anything.');
    return files(open, named(found), s, env);
  },
};
