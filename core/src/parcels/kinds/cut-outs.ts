import type { ListedChange } from '../../changes/listed.ts';
import { listedChanges } from '../../changes/listed.ts';
import type { Field } from '../../fields/field.ts';
import { boxHeight, boxWidth, type Box2i } from '../../planes/box.ts';
import type { OpenPicture } from '../../version/open-picture.ts';
import { VersionError } from '../../version/version-error.ts';
import { chosenOf, EACH_MEMBER, layerIn, maskedChanges, maskName } from '../coverage.ts';
import { plainChannel } from '../../roles/write/rewrite.ts';
import { caughtIn, type Caught } from '../cut/caught.ts';
import { groundOf, type Ground } from '../cut/ground.ts';
import { Lift, membersChange } from '../cut/lift.ts';
import { exrFile, rasterFile } from '../made.ts';
import type { MadeFile, ParcelEnv, ParcelKind, ParcelRequest } from '../kind.ts';
import { plainNames } from '../naming.ts';
import { rasterFormat } from '../raster/formats.ts';
import { quantise } from '../raster/quantise.ts';
import { profileFor, shownSamples, writtenTransform } from '../raster/screen.ts';
import { CROP, formatField, LAYER, MEMBERS, PROFILE, TRANSFORM, WINDOW } from '../raster/usual-fields.ts';
import { placesIn, writtenWindow } from '../raster/windows.ts';

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
const TRIM: Field = { kind: 'switch', key: 'trim', label: 'Trim', neutral: false };
const CLEAN: Field = { kind: 'switch', key: 'clean', label: 'Clean edges', neutral: true };
const CAUGHT: Field = {
  kind: 'switch',
  key: 'caught',
  label: 'Shadow, reflection',
  neutral: true,
};
const GROUND: Field = {
  kind: 'choice',
  key: 'ground',
  label: 'On',
  options: [
    { value: 'nothing', label: 'nothing' },
    { value: 'colour', label: 'a colour' },
    { value: 'picture', label: 'a picture that fills the frame' },
  ],
  neutral: 'nothing',
};
const COLOUR: Field = { kind: 'colour', key: 'colour', label: 'Ground', max: 1, neutral: [1, 1, 1] };
const PICTURE: Field = {
  kind: 'picture',
  key: 'picture',
  label: 'Picture below',
  neutral: { file: '', name: '' },
};

/** A part as it is written: light times alpha, and alpha. */
interface Cut {
  name: string;
  light: readonly Float32Array[];
  alpha: Float32Array;
}

/** The smallest window around what is covered, within another one. */
function windowAround(cover: Float32Array, data: Box2i, window: Box2i): Box2i {
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

/** A part on a ground: the shadow takes from it, the reflection adds, and the part covers it. */
function onGround({ name, light, alpha }: Cut, ground: Ground, caught: Caught | undefined): Cut {
  const out = light.map((plane) => plane.slice());
  for (let p = 0; p < alpha.length; p++) {
    const below = ground(p);
    const left = 1 - alpha[p]!;
    const lit = caught ? 1 - caught.shadow[p]! : 1;
    out.forEach((plane, k) => {
      const added = caught ? [caught.r, caught.g, caught.b][k]![p]! : 0;
      plane[p]! += left * (below[k]! * lit + added);
    });
  }
  return { name, light: out, alpha: new Float32Array(alpha.length).fill(1) };
}

/**
 * Shadow and reflection to be laid below a part, as pictures with alpha: the shadow is black, the reflection covers as
 * much as its brightest channel lights up.
 */
function caughtCuts({ shadow, r, g, b }: Caught): Cut[] {
  const black = new Float32Array(shadow.length);
  const alpha = r.map((v, p) => Math.min(1, Math.max(0, v, g[p]!, b[p]!)));
  return [
    { name: 'shadow', light: [black, black, black], alpha: shadow },
    { name: 'reflection', light: [r, g, b], alpha },
  ];
}

const overAlpha = (light: Float32Array, alpha: Float32Array) =>
  light.map((v, p) => (alpha[p]! > 0 ? v / alpha[p]! : 0));

function asExr(
  open: OpenPicture,
  { name, light, alpha }: Cut,
  window: Box2i,
  { settings: s }: ParcelRequest,
  env: ParcelEnv,
): MadeFile {
  const { header } = open.image;
  const places = placesIn(header.dataWindow, window);
  const plane = (from: Float32Array) => Float32Array.from(places, (p) => (p < 0 ? 0 : from[p]!));
  const straight = s['alpha'] === 'straight';
  const colour = light.map((v) => plane(straight ? overAlpha(v, alpha) : v));
  const channels = [
    ...colour.map((v, k) => plainChannel('RGB'[k]!, v)),
    ...(s['ground'] === 'nothing' ? [plainChannel('A', plane(alpha))] : []),
  ];
  const { displayWindow, pixelAspectRatio } = header;
  // Of what is said of the source only the primaries hold for a part of it.
  const attributes = header.attributes.filter((a) => a.name === 'chromaticities');
  const part = { dataWindow: window, displayWindow, pixelAspectRatio, attributes, channels };
  return exrFile(name, [{ ...part, compression: 'zip' }], env);
}

function asRaster(
  open: OpenPicture,
  { name, light, alpha }: Cut,
  window: Box2i,
  { settings: s }: ParcelRequest,
  env: ParcelEnv,
): MadeFile {
  const format = rasterFormat(s['format'] as string);
  const transform = writtenTransform(s);
  const places = placesIn(open.image.header.dataWindow, window);
  const [r, g, b] = light.map((v) => overAlpha(v, alpha));
  const shown = shownSamples({ ...open.planes, r: r!, g: g!, b: b! }, places, transform);
  const multiplied = s['alpha'] === 'premultiplied';
  const channels = s['ground'] === 'nothing' ? 4 : 3;
  const samples = new Float32Array(places.length * channels);
  for (let i = 0; i < places.length; i++) {
    const a = places[i]! < 0 ? 0 : alpha[places[i]!]!;
    for (let k = 0; k < 3; k++) {
      const v = Math.min(1, Math.max(0, shown[3 * i + k]!));
      samples[channels * i + k] = channels === 4 && multiplied ? v * a : v;
    }
    if (channels === 4) samples[4 * i + 3] = a;
  }
  return rasterFile(
    name,
    format,
    {
      width: boxWidth(window),
      height: boxHeight(window),
      channels,
      data: quantise(samples, format.depth, false),
      premultiplied: multiplied,
    },
    { profile: s['profile'] === true ? profileFor(transform) : undefined, zlib: env.zlib },
  );
}

/** What is cut out, as changes that mean it. Throws VersionError where that is nothing. */
function wantedParts(open: OpenPicture, request: ParcelRequest): { name: string; change: ListedChange }[] {
  const { settings: s } = request;
  if (s['of'] === 'changes') {
    const changes = maskedChanges(request);
    if (changes.length === 0)
      throw new VersionError('There is nothing to cut out: no change picks anything.');
    return changes.map((change, i) => ({ name: maskName(change, i), change }));
  }
  const layer = layerIn(open, s['layer'] as string);
  const members = chosenOf(layer, s['members'] as string);
  if (members.length === 0) throw new VersionError('There is nothing to cut out in this frame.');
  return s['of'] === 'together'
    ? [{ name: 'cut_out', change: membersChange(layer, members) }]
    : members.map((m) => ({ name: m.name, change: membersChange(layer, [m]) }));
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
    CLEAN,
    CAUGHT,
    GROUND,
    COLOUR,
    PICTURE,
    WINDOW,
    CROP,
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
    return [{ part: s['of'] === 'together' ? 'cut_out' : EACH_MEMBER, ending }];
  },
  bytesPerPixel: (s) =>
    (s['format'] === 'exr' ? 4 : 4 * rasterFormat(s['format'] as string).bytesPerPixel) *
    (s['trim'] === true ? 0.2 : 0.6),
  async make(frame, request, env) {
    const { settings: s } = request;
    const open = await frame.open();
    const wanted = wantedParts(open, request);
    const ground = await groundOf(open, request, env);
    const caught = s['caught'] === false ? undefined : caughtIn(open);
    const lift = await Lift.of(open, listedChanges(request.list, request), env);
    const names = plainNames(
      [...wanted.map((w) => w.name), ...(caught && !ground ? ['shadow', 'reflection'] : [])],
      'change',
    );
    const { header } = open.image;
    const whole = writtenWindow(header, s);
    const write = (cut: Cut, around: Float32Array) => {
      const window = s['trim'] === true ? windowAround(around, header.dataWindow, whole) : whole;
      return s['format'] === 'exr'
        ? asExr(open, cut, window, request, env)
        : asRaster(open, cut, window, request, env);
    };
    const files: MadeFile[] = [];
    for (const [i, { change }] of wanted.entries()) {
      const { r, g, b, cover } = await lift.part(change, s['clean'] !== false);
      const cut = { name: names[i]!, light: [r, g, b], alpha: cover };
      files.push(write(ground ? onGround(cut, ground, caught) : cut, cover));
      env.onProgress?.((i + 1) / wanted.length);
    }
    if (caught && !ground)
      caughtCuts(caught).forEach((cut, i) =>
        files.push(write({ ...cut, name: names[wanted.length + i]! }, cut.alpha)),
      );
    return files;
  },
};
