import {
  ChangeStack,
  chromaticities,
  colourLayers,
  layerKindOf,
  primariesName,
  TILE_PIXELS,
  unnamed,
  wallOf,
  type CastLayer,
  type Crew,
  type ExrHeader,
  type Frame,
  type RgbPlanes,
  type WallPass,
  type Watched,
} from '@zesty-crow/core';
import { DueTiles } from './computing/due-tiles.ts';
import type { CastSummary, Opened, Surface, ViewState } from './messages.ts';

export const SURFACES: readonly Surface[] = ['view', 'before', 'dim', 'mask', 'warn'];

/** What belongs to one opened frame; another one takes its place as a whole. */
export interface OpenFrame {
  frame: Frame;
  wall: readonly WallPass[];
  planes: RgbPlanes;
  stack: ChangeStack;
  /** Layers that have arrived. */
  cast: CastLayer[];
  names: Map<string, Map<number, string>>;
  /** Layers that are still to come. */
  coming: Set<string>;
  /** Planes of other passes that corrections read; filled as they are wanted. */
  passes: Record<string, readonly Float32Array[]>;
  /** Passes that are or were being read, and when that is over. */
  asked: Map<string, Promise<void>>;
  /** How many of those are still being read. */
  reading: number;
  /** RGBA of the corrected picture, tile after tile. */
  bytes: Uint8Array;
  toCompute: Uint8Array;
  shown: Record<Surface, DueTiles>;
  /** Tiles that the open change's mask reaches, as dimming was told last. */
  dimmed: Uint8Array;
  watched: Watched | undefined;
  /** Where presets are tried. */
  trial: ChangeStack | undefined;
  /** Where other states of the whole list are computed. */
  state: ChangeStack | undefined;
}

/** A frame whose picture has been read; `last` is the one that it takes the place of. */
export function openedFrame(
  frame: Frame,
  planes: RgbPlanes,
  crew: Crew,
  last: OpenFrame | undefined,
): OpenFrame {
  const cast: CastLayer[] = [];
  const passes: OpenFrame['passes'] = {};
  const stack = new ChangeStack(planes, cast, { allocate: (bytes) => crew.allocate(bytes), passes });
  const count = stack.tileCount;
  const same = last?.dimmed.length === count ? last : undefined;
  return {
    frame,
    wall: wallOf(frame.header, frame.beauty, frame.layers),
    planes,
    stack,
    cast,
    names: new Map(),
    coming: new Set(soundLayers(frame)),
    passes,
    asked: new Map(),
    reading: 0,
    bytes: new Uint8Array(crew.allocate(count * 4 * TILE_PIXELS)),
    toCompute: new Uint8Array(count),
    // Dimming begins as it is everywhere without a mask; what a frame before has undimmed is to be dimmed again.
    shown: {
      view: new DueTiles(count, false),
      before: new DueTiles(count, false),
      dim: same?.shown.dim ?? new DueTiles(count, true),
      mask: new DueTiles(count, false),
      warn: new DueTiles(count, true),
    },
    dimmed: same?.dimmed ?? new Uint8Array(count),
    watched: undefined,
    trial: undefined,
    state: undefined,
  };
}

/** One more stack of the open picture, for other states of it. */
export const stackBeside = ({ planes, cast, passes, stack }: OpenFrame, crew: Crew): ChangeStack =>
  new ChangeStack(planes, cast, { allocate: (bytes) => crew.allocate(bytes), passes, beside: stack });

const soundLayers = (frame: Frame) => frame.layers.filter((l) => l.sound).map((l) => l.name);

/** What the page is told of a frame as soon as it is there. */
export const describeOpened = ({ frame, wall, planes }: OpenFrame): Opened => ({
  width: frame.width,
  height: frame.height,
  display: frame.display,
  dataWindow: frame.header.dataWindow,
  displayWindow: frame.header.displayWindow,
  hasPicture: frame.beauty !== undefined,
  layers: soundLayers(frame),
  passes: frame.passes.map((p) => p.name),
  hasDepth: depthOf(wall) !== undefined,
  primaries: primariesOf(frame.header.attributes),
  toScreen: planes.toScreen,
  white: planes.white,
  wall: [...wall],
  choice: frame.choice,
  colourLayers: colourLayers(frame.header, frame.taken),
  roles: frame.roleRows,
  channels: frame.header.channels.map((c) => c.name),
  findings: [...frame.findings],
});

/** The pass that tells how far away each pixel is. */
export const depthOf = (wall: readonly WallPass[]): WallPass | undefined =>
  wall.find((p) => layerKindOf(p.layer, p.channels.length)?.kind === 'depth');

/** What the primaries of a file are called; a file that does not say has those of Rec. 709. */
function primariesOf(attributes: ExrHeader['attributes']): string {
  const stated = chromaticities(attributes);
  return stated ? primariesName(stated) : 'Rec. 709';
}

/** Takes a layer over that has come; undefined if nobody waits for it. */
export function addToCast(open: OpenFrame, layer: CastLayer): CastSummary | undefined {
  if (!open.coming.has(layer.name)) return undefined;
  open.cast.push(layer);
  // In the order of the file, whichever came first.
  const order = open.frame.layers.map((l) => l.name);
  open.cast.sort((a, b) => order.indexOf(a.name) - order.indexOf(b.name));
  open.names.set(layer.name, new Map(layer.members.map((m) => [m.id, m.name])));
  open.coming.delete(layer.name);
  const { name, family, members, unseen } = layer;
  return { name, family, members, unseen };
}

/** For each change, how many members that it names are not in the frame; nothing while layers are coming. */
export function missingMembers(
  { stack, coming }: OpenFrame,
  { changes }: ViewState,
): { [id: string]: number } {
  const missing: { [id: string]: number } = {};
  if (coming.size > 0) return missing;
  for (const { id } of changes) {
    const lost = stack.missing(id).length;
    if (lost) missing[id] = lost;
  }
  return missing;
}

/** What a member of a layer is called. */
export const nameOf = (open: OpenFrame, layer: string, id: number): string =>
  open.names.get(layer)?.get(id) ?? unnamed(id);

/** The question was asked of a frame that is not open any more. */
export class ClosedError extends Error {
  override name = 'ClosedError';
}
