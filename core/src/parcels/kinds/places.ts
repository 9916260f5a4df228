import { castOf } from '../../cast/cast.ts';
import type { Field } from '../../fields/field.ts';
import type { IdIndex } from '../../idindex/id-index.ts';
import { middlesOf } from '../../idindex/middles.ts';
import { rosterOf } from '../../roster/roster.ts';
import { momentOf } from '../../plan/stage.ts';
import { boxHeight, boxWidth } from '../../planes/box.ts';
import type { SceneTracks } from '../../scene/tracks.ts';
import type { Frame } from '../../version/frame.ts';
import { VersionError } from '../../version/version-error.ts';
import { chosenOf, noSuchLayer } from '../coverage.ts';
import { textFile } from '../made.ts';
import type { MadeFile, ParcelEnv, ParcelFrame, ParcelKind, ParcelRequest } from '../kind.ts';
import { LAYER, MEMBERS } from '../raster/usual-fields.ts';

const JSON_FIELD: Field = { kind: 'switch', key: 'json', label: 'As JSON', neutral: true };
const GLTF: Field = { kind: 'switch', key: 'gltf', label: 'As glTF', neutral: true };

/** Where a member is seen in a frame, in pixels of the display window from its upper left, y down. */
interface Sight {
  x: number;
  y: number;
  /** Left, top, width and height of what it touches. */
  box: [number, number, number, number];
  /** Sum of coverage in pixels. */
  area: number;
}

/** Boxes of some slots of an index, in its own pixels. */
function boxesOf({ slot, pixel, length, width }: IdIndex, wanted: ReadonlySet<number>) {
  const boxes = new Map<number, { left: number; top: number; right: number; bottom: number }>();
  for (let i = 0; i < slot.length; i++) {
    if (!wanted.has(slot[i]!)) continue;
    const [x, y] = [pixel[i]! % width, Math.floor(pixel[i]! / width)];
    const box = boxes.get(slot[i]!) ?? { left: x, top: y, right: x, bottom: y };
    box.left = Math.min(box.left, x);
    box.right = Math.max(box.right, x + length[i]!);
    box.bottom = Math.max(box.bottom, y + 1);
    boxes.set(slot[i]!, box);
  }
  return boxes;
}

/** Where the chosen members of a frame are seen, by name. Rejects with VersionError for a layer that it has not. */
async function sightsIn(frame: Frame, layer: string, text: string, env: ParcelEnv) {
  const own = frame.layers.find((l) => l.name === layer && l.sound);
  if (!own)
    throw noSuchLayer(
      layer,
      frame.layers.filter((l) => l.sound),
    );
  const cast = castOf(own, await frame.index(own, { signal: env.signal }));
  const { dataWindow, displayWindow } = frame.header;
  const [dx, dy] = [dataWindow.xMin - displayWindow.xMin, dataWindow.yMin - displayWindow.yMin];
  const shown = new Set(chosenOf(cast, text).map((m) => m.id));
  const chosen = cast.members.filter((m) => shown.has(m.id));
  const { x, y } = middlesOf(cast.index);
  const slotOf = (id: number) => cast.index.slotOf.get(id)!;
  const boxes = boxesOf(cast.index, new Set(chosen.map((m) => slotOf(m.id))));
  return new Map(
    chosen.map(({ name, id, coverage }): [string, Sight] => {
      const { left, top, right, bottom } = boxes.get(slotOf(id))!;
      return [
        name,
        {
          x: x[slotOf(id)]! + dx,
          y: y[slotOf(id)]! + dy,
          box: [left + dx, top + dy, right - left, bottom - top],
          area: coverage,
        },
      ];
    }),
  );
}

/** What the scene says of the frames, and what its objects are called in the passes. */
async function spaceOf(names: ReadonlySet<string>, request: ParcelRequest, env: ParcelEnv) {
  const found = await env.readScene?.();
  if (!found) return undefined;
  const { file, plan } = found;
  const { outlineOf, tracksOf, seenAt, writeTracks } = await import('../../scene/index.ts');
  const roster = rosterOf(outlineOf(file), plan);
  const nameOf = new Map(roster.objects.map((o) => [o.source, o.name]));
  const wanted = new Set(roster.objects.filter((o) => names.has(o.name)).map((o) => o.source));
  // A single picture was rendered at the plan's first frame.
  const frames = request.frames.length ? request.frames : [plan.render.first];
  const moments = frames.map((n) => momentOf(plan, n));
  const tracks = tracksOf(file, moments, wanted);
  const named = tracks.objects.map((o) => ({ ...o, path: nameOf.get(o.path) ?? o.path }));
  return { tracks: { ...tracks, objects: named }, rate: plan.render.framesPerSecond, seenAt, writeTracks };
}

const rounded = (v: number) => Number(v.toPrecision(9));
const row = (m: ArrayLike<number>) => Array.from(m, rounded);

function document(
  request: ParcelRequest,
  frame: Frame,
  sights: readonly ReadonlyMap<string, Sight>[],
  space: Awaited<ReturnType<typeof spaceOf>>,
) {
  const { displayWindow, pixelAspectRatio } = frame.header;
  const size = { width: boxWidth(displayWindow), height: boxHeight(displayWindow) };
  const names = [...new Set(sights.flatMap((s) => [...s.keys()]))].sort();
  const shown = (tracks: SceneTracks, name: string) => {
    const own = tracks.objects.find((o) => o.path === name);
    if (!own || !space) return {};
    return {
      size: own.size.map(rounded),
      matrices: own.matrices.map(row),
      middle: own.matrices.map((m, i) => {
        const at = space.seenAt(tracks.camera.lens, tracks.camera.matrices[i]!, [m[12]!, m[13]!, m[14]!], {
          ...size,
          pixelAspect: pixelAspectRatio,
        });
        return at ? [rounded(at.x), rounded(at.y), rounded(at.depth)] : null;
      }),
    };
  };
  const { tracks } = space ?? {};
  return {
    format: 'zesty-crow/places',
    version: 1,
    about:
      'Pixels are counted from the upper left of the frame, y down, middles at .5. Matrices are column-major, to the world; y is up, a camera looks along -z. Everything is listed once a frame.',
    shot: request.shot,
    shotVersion: request.version,
    ...size,
    pixelAspect: pixelAspectRatio,
    frames: request.frames,
    ...(space && tracks
      ? {
          framesPerSecond: space.rate,
          camera: {
            name: tracks.camera.path,
            ...(tracks.camera.lens.yfov > 0
              ? { yfov: tracks.camera.lens.yfov }
              : { yHalf: tracks.camera.lens.yHalf }),
            matrices: tracks.camera.matrices.map(row),
          },
          lights: tracks.lights.map(({ path, matrices, ...light }) => ({
            name: path,
            ...light,
            matrices: matrices.map(row),
          })),
        }
      : {}),
    places: names.map((name) => ({
      name,
      seen: sights.map((s) => s.get(name) ?? null),
      ...(tracks ? shown(tracks, name) : {}),
    })),
  };
}

/** A glTF that was written, read again and compared. */
function gltfFile(bytes: Uint8Array, tracks: SceneTracks): MadeFile {
  return {
    part: 'places',
    ending: '.glb',
    mediaType: 'model/gltf-binary',
    bytes,
    async verify() {
      const { openScene } = await import('../../scene/index.ts');
      const { nodes } = await openScene(bytes);
      const wanted = 1 + tracks.lights.length + tracks.objects.length;
      const first = tracks.camera.matrices[0]!;
      const camera = nodes.find((n) => n.node.getCamera())?.node.getTranslation();
      const same = camera?.every((v, k) => Math.abs(v - first[12 + k]!) <= 1e-6 * (1 + Math.abs(v)));
      return nodes.length === wanted && same ? '' : 'The glTF does not hold the camera, lights and places.';
    },
  };
}

async function allSights(frame: ParcelFrame, request: ParcelRequest, env: ParcelEnv) {
  const { settings: s, frames } = request;
  const [layer, text] = [s['layer'] as string, s['members'] as string];
  if (frames.length === 0) return [await sightsIn(frame.frame, layer, text, env)];
  const sights: Map<string, Sight>[] = [];
  for (const [i, number] of frames.entries()) {
    env.signal?.throwIfAborted();
    const own = number === request.frame ? frame.frame : await frame.at(number);
    sights.push(await sightsIn(own, layer, text, env));
    env.onProgress?.((i + 1) / frames.length);
  }
  return sights;
}

/** Where things are over the frames, in the picture and in space. */
export const places: ParcelKind = {
  kind: 'places',
  label: 'Camera and places',
  hint: 'Where things are over the frames, so that text or a picture can be put on them elsewhere.',
  fields: [LAYER, MEMBERS, JSON_FIELD, GLTF],
  varies: false,
  reads: 'scene',
  ofPicture: false,
  per: 'all frames',
  parts: ({ settings: s }) => [
    ...(s['json'] === false ? [] : [{ part: 'places', ending: '.json' }]),
    ...(s['gltf'] === false ? [] : [{ part: 'places', ending: '.glb' }]),
  ],
  bytesPerPixel: () => 0.01,
  async make(frame, request, env) {
    const { settings: s } = request;
    const sights = await allSights(frame, request, env);
    const names = new Set(sights.flatMap((x) => [...x.keys()]));
    if (names.size === 0)
      throw new VersionError(`Nobody of ${s['layer'] as string} that is meant can be seen in these frames.`);
    const space = await spaceOf(names, request, env);
    const files: MadeFile[] = [];
    if (s['json'] !== false) {
      const text = JSON.stringify(document(request, frame.frame, sights, space));
      files.push(textFile('places', '.json', 'application/json', `${text}\n`));
    }
    if (s['gltf'] !== false) {
      if (space) {
        const { displayWindow, pixelAspectRatio } = frame.frame.header;
        const aspect = (boxWidth(displayWindow) * pixelAspectRatio) / boxHeight(displayWindow);
        const frames = request.frames.length ? request.frames : [0];
        const times = frames.map((n) => (n - frames[0]!) / space.rate);
        files.push(gltfFile(await space.writeTracks(space.tracks, times, { aspect }), space.tracks));
      } else
        env.onNote?.('This shot has no scene: there is no glTF, and camera and lights are not in the JSON.');
    }
    if (files.length === 0)
      throw new VersionError('This shot has no scene to write as glTF. Choose JSON, or add the scene.');
    return files;
  },
};
