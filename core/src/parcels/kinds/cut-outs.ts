import { listedChanges } from '../../changes/listed.ts';
import { correctedPlanes } from '../../exports/corrected-planes.ts';
import type { ColourValue, Field } from '../../fields/field.ts';
import { linearToSrgb } from '../../colour/srgb.ts';
import { boxHeight, boxWidth, type Box2i } from '../../planes/box.ts';
import type { OpenPicture } from '../../version/open-picture.ts';
import type { RgbPlanes } from '../../planes/rgb-planes.ts';
import { VersionError } from '../../version/version-error.ts';
import { maskedChanges, maskName, masksOfChanges, masksOfMembers } from '../coverage.ts';
import { plainChannel } from '../../roles/write/rewrite.ts';
import { exrFile, rasterFile } from '../made.ts';
import type { MadeFile, ParcelEnv, ParcelKind, ParcelRequest } from '../kind.ts';
import { plainNames } from '../naming.ts';
import { rasterFormat } from '../raster/formats.ts';
import { quantise } from '../raster/quantise.ts';
import { profileFor, shownSamples } from '../raster/screen.ts';
import { formatField, LAYER, MEMBERS, PROFILE, TRANSFORM } from '../raster/usual-fields.ts';
import { placesIn } from '../raster/windows.ts';

const OF: Field = {
  kind: 'choice',
  key: 'of',
  label: 'Of',
  options: [
    { value: 'changes', label: 'the parts of the changes' },
    { value: 'members', label: 'members of an ID layer, each' },
    { value: 'together', label: 'members of an ID layer, together' },
  ],
  neutral: 'changes',
};
const ALPHA: Field = {
  kind: 'choice',
  key: 'alpha',
  label: 'Colour',
  options: [
    { value: 'straight', label: 'straight, not multiplied by alpha' },
    { value: 'premultiplied', label: 'multiplied by alpha' },
  ],
  neutral: 'straight',
};
const TRIM: Field = { kind: 'switch', key: 'trim', label: 'Trim to what is there', neutral: false };
const GROUND: Field = {
  kind: 'choice',
  key: 'ground',
  label: 'On',
  options: [
    { value: 'nothing', label: 'nothing' },
    { value: 'colour', label: 'a colour' },
  ],
  neutral: 'nothing',
};
const COLOUR: Field = { kind: 'colour', key: 'colour', label: 'Ground', max: 1, neutral: [1, 1, 1] };

/** The smallest window around what is covered, within another one. */
function around(cover: Float32Array, data: Box2i, window: Box2i): Box2i {
  const width = boxWidth(data);
  const box = { xMin: Infinity, yMin: Infinity, xMax: -Infinity, yMax: -Infinity };
  cover.forEach((c, p) => {
    if (!(c > 0)) return;
    const [x, y] = [data.xMin + (p % width), data.yMin + Math.floor(p / width)];
    if (x < window.xMin || x > window.xMax || y < window.yMin || y > window.yMax) return;
    box.xMin = Math.min(box.xMin, x);
    box.xMax = Math.max(box.xMax, x);
    box.yMin = Math.min(box.yMin, y);
    box.yMax = Math.max(box.yMax, y);
  });
  return box.xMax < box.xMin ? window : box;
}

function asExr(
  open: OpenPicture,
  { r, g, b }: RgbPlanes,
  name: string,
  cover: Float32Array,
  window: Box2i,
  straight: boolean,
  env: ParcelEnv,
): MadeFile {
  const { dataWindow, displayWindow } = open.image.header;
  const places = placesIn(dataWindow, window);
  const plane = (value: (p: number) => number) => Float32Array.from(places, (p) => (p < 0 ? 0 : value(p)));
  // In EXR premultiplied colour is usual; straight colour is the picture's own where anything is covered.
  const colour = (from: Float32Array) =>
    plane((p) => (cover[p]! > 0 ? from[p]! * (straight ? 1 : cover[p]!) : 0));
  const channels = [
    plainChannel('R', colour(r)),
    plainChannel('G', colour(g)),
    plainChannel('B', colour(b)),
    plainChannel(
      'A',
      plane((p) => cover[p]!),
    ),
  ];
  return exrFile(name, [{ dataWindow: window, displayWindow, channels, compression: 'zip' }], env);
}

function asRaster(
  open: OpenPicture,
  planes: RgbPlanes,
  name: string,
  cover: Float32Array,
  window: Box2i,
  { settings: s }: ParcelRequest,
  env: ParcelEnv,
): MadeFile {
  const format = rasterFormat(s['format'] as string);
  const transform = s['transform'] as string;
  const places = placesIn(open.image.header.dataWindow, window);
  const shown = shownSamples(planes, places, transform);
  const on = s['ground'] === 'colour' ? (s['colour'] as ColourValue).map(linearToSrgb) : undefined;
  const channels = on ? 3 : 4;
  const samples = new Float32Array(places.length * channels);
  for (let i = 0; i < places.length; i++) {
    const a = places[i]! < 0 ? 0 : Math.min(1, cover[places[i]!]!);
    for (let k = 0; k < 3; k++) {
      const v = Math.min(1, Math.max(0, shown[3 * i + k]!));
      // What is not covered has no colour of its own.
      if (on) samples[3 * i + k] = a * v + (1 - a) * on[k]!;
      else samples[4 * i + k] = a === 0 ? 0 : s['alpha'] === 'premultiplied' ? v * a : v;
    }
    if (!on) samples[4 * i + 3] = a;
  }
  return rasterFile(
    name,
    format,
    {
      width: boxWidth(window),
      height: boxHeight(window),
      channels,
      data: quantise(samples, format.depth, false),
      premultiplied: s['alpha'] === 'premultiplied',
    },
    { profile: s['profile'] === true ? profileFor(transform) : undefined, zlib: env.zlib },
  );
}

/** Chosen things alone, with alpha, for putting them elsewhere. */
export const cutOuts: ParcelKind = {
  kind: 'cut-outs',
  label: 'Cut-outs',
  hint: 'Things alone, corrected, with alpha.',
  fields: [
    OF,
    LAYER,
    MEMBERS,
    formatField(true, (f) => f.alpha && f.depth !== 32, 'png16'),
    ALPHA,
    TRIM,
    GROUND,
    COLOUR,
    TRANSFORM,
    PROFILE,
  ],
  varies: true,
  reads: 'changes',
  ofPicture: true,
  per: 'frame',
  parts({ list, settings: s }) {
    const ending = s['format'] === 'exr' ? '.exr' : rasterFormat(s['format'] as string).ending;
    if (s['of'] === 'changes')
      return plainNames(maskedChanges({ list }).map(maskName), 'change').map((part) => ({ part, ending }));
    return [{ part: s['of'] === 'together' ? 'cut_out' : '(each member)', ending }];
  },
  bytesPerPixel: (s) =>
    (s['format'] === 'exr' ? 4 : 4 * rasterFormat(s['format'] as string).bytesPerPixel) *
    (s['trim'] === true ? 0.2 : 0.6),
  async make(frame, request, env) {
    const { settings: s } = request;
    const open = await frame.open();
    const all =
      s['of'] === 'changes'
        ? masksOfChanges(open, request, true)
        : masksOfMembers(open, s['layer'] as string, s['members'] as string);
    if (all.length === 0) throw new VersionError('There is nothing to cut out: no change picks anything.');
    const planes = await correctedPlanes(open, listedChanges(request.list, request), env);
    const names = plainNames(
      all.map((m) => m.name),
      'change',
    );
    const [first] = all;
    const parts =
      s['of'] === 'together'
        ? [
            {
              name: 'cut_out',
              cover: first!.cover.map((_, p) =>
                Math.min(
                  1,
                  all.reduce((sum, m) => sum + m.cover[p]!, 0),
                ),
              ),
            },
          ]
        : all.map((m, i) => ({ name: names[i]!, cover: m.cover }));
    const { dataWindow, displayWindow } = open.image.header;
    return parts.map(({ name, cover }) => {
      const window = s['trim'] === true ? around(cover, dataWindow, displayWindow) : displayWindow;
      return s['format'] === 'exr'
        ? asExr(open, planes, name, cover, window, s['alpha'] === 'straight', env)
        : asRaster(open, planes, name, cover, window, request, env);
    });
  },
};
