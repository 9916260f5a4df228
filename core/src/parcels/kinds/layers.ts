import { decode, encode } from 'fast-png';
import { unzipSync } from 'fflate';
import { ChangeStack } from '../../apply/change-stack.ts';
import { ApplyError, computeStack } from '../../apply/apply-changes.ts';
import { listedChanges, type ListedChange } from '../../changes/listed.ts';
import { needPicture } from '../../exports/export-kind.ts';
import { passesFor } from '../../exports/passes-for.ts';
import type { Field } from '../../fields/field.ts';
import { writeOra, type OraGroup, type OraLayer } from '../../formats/ora/write.ts';
import { LINEAR_CHUNK, profileChunk, withChunks } from '../../formats/png/chunks.ts';
import { portableZlib } from '../../formats/exr/portable-zlib.ts';
import { asFloats } from '../../formats/exr/samples.ts';
import { boxHeight, boxWidth } from '../../planes/box.ts';
import type { RgbPlanes } from '../../planes/rgb-planes.ts';
import type { OpenPicture } from '../../version/open-picture.ts';
import { plainChannel } from '../../roles/write/rewrite.ts';
import { exrFile } from '../made.ts';
import type { MadeFile, ParcelEnv, ParcelKind, ParcelRequest } from '../kind.ts';
import { layerOver } from '../layer-over.ts';
import { plainNames } from '../naming.ts';
import { quantise } from '../raster/quantise.ts';
import { profileFor, shownSamples, writtenTransform } from '../raster/screen.ts';
import { TRANSFORM } from '../raster/usual-fields.ts';
import { placesIn } from '../raster/windows.ts';

const FORMAT: Field = {
  kind: 'choice',
  key: 'format',
  label: 'Format',
  options: [
    { value: 'ora', label: 'OpenRaster, 16 bit' },
    { value: 'exr', label: 'EXR of several parts' },
  ],
  neutral: 'ora',
};

/** The picture after each change that is on, from the bottom up. */
async function eachState(
  open: OpenPicture,
  changes: readonly ListedChange[],
  env: ParcelEnv,
  use: (change: ListedChange, now: RgbPlanes, cover: Float32Array) => void,
): Promise<void> {
  const { crew, signal } = env;
  const passes = await passesFor(open, changes, env);
  const stack = new ChangeStack(open.planes, open.cast, {
    passes,
    ...(crew ? { allocate: (bytes: number) => crew.allocate(bytes) } : {}),
  });
  for (const [i, change] of changes.entries()) {
    const failures = await computeStack(stack, changes.slice(0, i + 1), { crew, signal });
    if (failures.length) throw new ApplyError(failures);
    use(change, stack.result, stack.mask(change.id)!.flat());
    env.onProgress?.((i + 1) / changes.length);
  }
}

const nameOf = (change: { words: string }, i: number) => change.words || `Change ${i + 1}`;

/** The rectangle of a layer in which anything is; one pixel for an empty one. */
function boundsOf(rgba: Uint16Array, width: number): { x: number; y: number; w: number; h: number } {
  let [x0, y0, x1, y1] = [Infinity, Infinity, -1, -1];
  for (let p = 0; 4 * p < rgba.length; p++) {
    if (!rgba[4 * p + 3]) continue;
    const [x, y] = [p % width, Math.floor(p / width)];
    [x0, y0, x1, y1] = [Math.min(x0, x), Math.min(y0, y), Math.max(x1, x), Math.max(y1, y)];
  }
  return x1 < 0 ? { x: 0, y: 0, w: 1, h: 1 } : { x: x0, y: y0, w: x1 - x0 + 1, h: y1 - y0 + 1 };
}
function trimmed(
  rgba: Uint16Array,
  width: number,
): { data: Uint16Array; x: number; y: number; w: number; h: number } {
  const box = boundsOf(rgba, width);
  const data = new Uint16Array(4 * box.w * box.h);
  for (let row = 0; row < box.h; row++) {
    const from = 4 * ((box.y + row) * width + box.x);
    data.set(rgba.subarray(from, from + 4 * box.w), 4 * row * box.w);
  }
  return { data, ...box };
}

/** Layers by the headings that their changes stand under; those of one heading follow each other. */
function grouped(layers: readonly { layer: OraLayer; change: ListedChange }[]): (OraLayer | OraGroup)[] {
  const out: (OraLayer | OraGroup)[] = [];
  let last: string | undefined;
  for (const { layer, change } of layers) {
    const { over } = change;
    const group = out.at(-1);
    if (over && over.id === last && group && 'layers' in group) group.layers.push(layer);
    else out.push(over ? { name: over.words || 'Heading', layers: [layer] } : layer);
    last = over?.id;
  }
  return out;
}

/** The picture's own alpha in a window, 16 bits; undefined where all of it is opaque. @param places see {@link placesIn} */
function alphaIn({ image, beauty }: OpenPicture, places: Int32Array): Uint16Array | undefined {
  const channel = image.channels.find((c) => c.name === beauty?.a);
  if (!channel) return undefined;
  const own = asFloats(channel);
  const alpha = Uint16Array.from(places, (p) => (p < 0 ? 0 : Math.round(65535 * clamp(own[p]!))));
  return alpha.every((a) => a === 65535) ? undefined : alpha;
}
const clamp = (v: number) => Math.min(1, Math.max(0, v));

/** Colours in a window as a screen shows them, three samples of 16 bits a pixel; alpha is divided out where it counts. */
function shownColours(
  { image, beauty }: OpenPicture,
  planes: RgbPlanes,
  places: Int32Array,
  transform: string,
  divided: boolean,
): Uint16Array {
  const channel = divided ? image.channels.find((c) => c.name === beauty?.a) : undefined;
  const samples = shownSamples(planes, places, transform, channel && asFloats(channel));
  const colours = channel ? samples.filter((_, i) => i % 4 < 3) : samples;
  return quantise(colours, 16, false) as Uint16Array;
}

/** Colour of three samples a pixel with alpha as the fourth. */
function withAlpha(rgb: Uint16Array, alpha: Uint16Array): Uint16Array {
  const out = new Uint16Array(4 * alpha.length);
  alpha.forEach((a, p) => {
    out.set(rgb.subarray(3 * p, 3 * p + 3), 4 * p);
    out[4 * p + 3] = a;
  });
  return out;
}

async function asOra(
  open: OpenPicture,
  changes: readonly ListedChange[],
  { settings }: ParcelRequest,
  env: ParcelEnv,
): Promise<MadeFile> {
  const { dataWindow, displayWindow } = open.image.header;
  const [width, height] = [boxWidth(displayWindow), boxHeight(displayWindow)];
  const places = placesIn(dataWindow, displayWindow);
  const transform = writtenTransform(settings);
  const zlib = env.zlib ?? portableZlib;
  const profile = profileFor(transform);
  const png = (data: Uint16Array, channels: 3 | 4, w = width, h = height) =>
    withChunks(encode({ width: w, height: h, channels, depth: 16, data }), [
      transform === 'raw' ? LINEAR_CHUNK : profileChunk(profile, (b) => zlib.deflate(b)),
    ]);
  const clear = alphaIn(open, places);
  const shown = (planes: RgbPlanes) => shownColours(open, planes, places, transform, clear !== undefined);
  const base = shown(open.planes);
  let below: Uint16Array = base;
  const layers: { layer: OraLayer; change: ListedChange }[] = [];
  await eachState(open, changes, env, (change, now, cover) => {
    const seen = Float32Array.from(places, (p) => (p < 0 ? 0 : cover[p]!));
    const { rgba, sum } = layerOver(below, shown(now), seen);
    const { data, x, y, w, h } = trimmed(rgba, width);
    layers.push({ change, layer: { name: nameOf(change, layers.length), png: png(data, 4, w, h), x, y } });
    below = sum;
  });
  const whole = (rgb: Uint16Array) => (clear ? png(withAlpha(rgb, clear), 4) : png(rgb, 3));
  const bottom: OraLayer = { name: 'As rendered', png: whole(base), x: 0, y: 0 };
  // Colours are not multiplied, so that laying one on the other leaves the picture's own alpha as it was.
  const composite = clear ? 'src-atop' : 'src-over';
  const over = grouped(layers).map((one) => ({ ...one, composite }) as const);
  const merged = clear ? withAlpha(below, clear) : below;
  const bytes = writeOra({ width, height }, [bottom, ...over], {
    merged: whole(below),
    thumbnail: thumbnailOf(merged, clear ? 4 : 3, width, height),
  });
  return {
    part: 'layers',
    ending: '.ora',
    mediaType: 'image/openraster',
    bytes,
    verify() {
      const again = unzipSync(bytes);
      const read = again['mergedimage.png'] && decode(again['mergedimage.png']).data;
      const pngs = Object.keys(again).filter((n) => n.startsWith('data/')).length;
      const same = read?.length === merged.length && merged.every((v, i) => v === read[i]);
      return same && pngs === layers.length + 1 ? '' : 'The OpenRaster file does not hold what was computed.';
    },
  };
}

/** Longest side of the small picture in the file, as its specification wants it. */
const THUMBNAIL = 256;
function thumbnailOf(samples: Uint16Array, channels: 3 | 4, width: number, height: number): Uint8Array {
  const by = Math.max(1, Math.max(width, height) / THUMBNAIL);
  const [w, h] = [Math.max(1, Math.floor(width / by)), Math.max(1, Math.floor(height / by))];
  const data = new Uint8Array(channels * w * h);
  for (let y = 0; y < h; y++)
    for (let x = 0; x < w; x++)
      for (let k = 0; k < channels; k++)
        data[channels * (y * w + x) + k] =
          samples[channels * (Math.floor(y * by) * width + Math.floor(x * by)) + k]! >> 8;
  return encode({ width: w, height: h, channels, depth: 8, data });
}

/**
 * Light that turns the picture below into the one above, as premultiplied colour: a C = a B + (R - B), so that
 * a C + (1 - a) B = R. Where something changed outside of the mask, all of the pixel is replaced.
 */
async function asExr(open: OpenPicture, changes: readonly ListedChange[], env: ParcelEnv): Promise<MadeFile> {
  const { dataWindow, displayWindow, pixelAspectRatio } = open.image.header;
  const windows = { dataWindow, displayWindow, pixelAspectRatio, compression: 'zip' };
  const rgb = (p: RgbPlanes) =>
    (['r', 'g', 'b'] as const).map((k) => plainChannel(k.toUpperCase(), p[k].slice()));
  const parts = [{ ...windows, name: 'as_rendered', channels: rgb(open.planes) }];
  const [, ...names] = plainNames(['as_rendered', ...changes.map(nameOf)], 'change');
  let below = open.planes;
  await eachState(open, changes, env, (_change, now, cover) => {
    const keys = ['r', 'g', 'b'] as const;
    const alpha = new Float32Array(cover.length);
    for (let p = 0; p < alpha.length; p++) {
      const differs = keys.some((k) => !Object.is(now[k][p], below[k][p]));
      alpha[p] = differs ? (cover[p]! > 0 ? Math.min(1, cover[p]!) : 1) : 0;
    }
    const channels = keys.map((k) =>
      plainChannel(
        k.toUpperCase(),
        alpha.map((a, p) => (a === 0 ? 0 : a * below[k][p]! + (now[k][p]! - below[k][p]!))),
      ),
    );
    const name = names[parts.length - 1]!;
    parts.push({ ...windows, name, channels: [...channels, plainChannel('A', alpha)] });
    below = { ...now, r: now.r.slice(), g: now.g.slice(), b: now.b.slice() };
  });
  return exrFile('layers', parts, env);
}

/** The picture as rendered with a layer for each change. */
export const layers: ParcelKind = {
  kind: 'layers',
  revision: 2,
  label: 'Layered file',
  hint: 'As rendered, and over it a layer for each change, with its mask. Layers added up are the corrected picture.',
  fields: [FORMAT, TRANSFORM],
  varies: true,
  reads: 'applied',
  ofPicture: true,
  per: 'frame',
  parts: ({ settings }) => [{ part: 'layers', ending: settings['format'] === 'exr' ? '.exr' : '.ora' }],
  bytesPerPixel: (s) => (s['format'] === 'exr' ? 24 : 14),
  async make(frame, request, env) {
    const open = await frame.open();
    needPicture(open);
    const changes = listedChanges(request.list, request).filter((c) => c.on);
    return [
      request.settings['format'] === 'exr'
        ? await asExr(open, changes, env)
        : await asOra(open, changes, request, env),
    ];
  },
};
