import { castOf, type CastLayer } from '../cast/index.ts';
import type { Change } from '../changes/change.ts';
import { ChangeStack, type RgbPlanes } from '../corrections/change-stack.ts';
import { floatsToHalves, type ExrChannel, type ExrImage } from '../exr/index.ts';
import { loadIdLayers, sizeOf, type Finding, type IdLayer } from '../idlayers/index.ts';
import { beautyPlanes, findBeauty, type BeautyChannels } from './picture.ts';

/** A decoded file with all that picking and correcting need. */
export interface OpenPicture {
  image: ExrImage;
  width: number;
  height: number;
  beauty?: BeautyChannels;
  planes: RgbPlanes;
  layers: IdLayer[];
  cast: CastLayer[];
  findings: Finding[];
}

/** Builds picture, ID layers and cast from a decoded file. */
export function openPicture(image: ExrImage, sidecars?: ReadonlyMap<string, string>): OpenPicture {
  const { layers, findings } = loadIdLayers(image, sidecars);
  const beauty = findBeauty(image.header);
  const open: OpenPicture = {
    image,
    ...sizeOf(image.header),
    planes: beautyPlanes(image, beauty),
    layers,
    cast: layers.flatMap((l) => (l.planes ? [castOf({ ...l, planes: l.planes })] : [])),
    findings,
  };
  if (beauty) open.beauty = beauty;
  return open;
}

/** Applies a whole change list at once. Picks that mean nothing in this picture are returned by change. */
export function applyChanges(
  open: OpenPicture,
  changes: readonly Change[],
  onProgress?: (done: number) => void,
): { planes: RgbPlanes; missing: { change: Change; member: string; layer: string }[] } {
  const stack = new ChangeStack(open.planes, open.cast);
  const tiles = stack.update(changes);
  tiles.forEach((tile, i) => {
    stack.renderTile(tile);
    if (i % 64 === 0) onProgress?.(i / tiles.length);
  });
  const missing = changes.flatMap((change) =>
    (change.on ? (stack.mask(change.id)?.missing ?? []) : []).map(({ member, layer }) => ({
      change,
      member,
      layer,
    })),
  );
  return { planes: stack.result, missing };
}

/**
 * The file's channels with the picture replaced by corrected planes in half; all others as they were. Pixels
 * whose value did not change keep the bits they had if the picture was half already.
 */
export function withCorrected(open: OpenPicture, planes: RgbPlanes): ExrChannel[] {
  const { beauty, image } = open;
  if (!beauty)
    throw new Error('The file holds no picture, only data passes, so there is nothing to correct.');
  const fresh = new Map<string, Float32Array>([
    [beauty.r, planes.r],
    [beauty.g, planes.g],
    [beauty.b, planes.b],
  ]);
  const corrected = image.channels.flatMap((c): ExrChannel[] => {
    // A grey picture cannot hold a colour, so it leaves as three channels.
    if (beauty.r === beauty.g && c.name === beauty.r)
      return (['r', 'g', 'b'] as const).map((k) => ({
        ...c,
        name: k.toUpperCase(),
        type: 'half' as const,
        data: floatsToHalves(planes[k]),
      }));
    const plane = fresh.get(c.name);
    if (c.name === beauty.a && c.type !== 'half')
      return [{ ...c, type: 'half', data: floatsToHalves(c.data) }];
    return [plane ? { ...c, type: 'half', data: floatsToHalves(plane) } : c];
  });
  return corrected;
}
