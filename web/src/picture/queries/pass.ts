import {
  explainRanks,
  idsPicture,
  onScreen,
  passPicture,
  rankCounts,
  ranksNeeded,
  type CastLayer,
  type Frame,
  type Size,
  type WallPass,
} from '@zesty-crow/core';
import type { PassPicture } from '../messages.ts';
import type { OpenFrame } from '../open-frame.ts';
import type { Desk, Question } from './question.ts';

/** Longest side of a picture up to which a pass is read together with all others. */
const SMALL = 700;

/** An ID pass: a colour for each member, and what its ranks are needed for. */
function idsOnWall({ frame }: OpenFrame, layer: CastLayer, side: number): PassPicture {
  const shown = idsPicture(layer.index, side);
  const described = frame.layers.find((l) => l.name === layer.name);
  if (described?.kind !== 'cryptomatte') return shown;
  const needed = ranksNeeded(layer.index);
  const ranks = explainRanks(needed, described.info.ranks.length);
  return { ...shown, ranks, rankCounts: rankCounts(needed) };
}

/** Planes of a pass as a picture; light in the primaries of the screen. */
function onWall(
  open: OpenFrame,
  pass: WallPass,
  planes: readonly Float32Array[],
  size: Size,
  side: number,
): PassPicture {
  const shownAs = pass.shownAs === 'ids' ? 'range' : pass.shownAs;
  const [r, g, b] = planes;
  if (shownAs !== 'light' || pass.display || !r || !g || !b)
    return passPicture(planes, size, shownAs, side, pass.display);
  const shown = onScreen({ width: size.width, height: size.height, r, g, b, toScreen: open.planes.toScreen });
  return passPicture([shown.r, shown.g, shown.b], size, shownAs, side);
}

/** Passes made smaller, all for one reading of the files; in the order in which sizes were asked for. */
const reduced = new WeakMap<Frame, Map<number, Promise<ReadonlyMap<string, Float32Array>>>>();

/** A pass as it hangs on the wall. */
async function small(desk: Desk, pass: WallPass, side: number): Promise<PassPicture> {
  const { open } = desk;
  const { frame } = open;
  const by = Math.max(1, Math.ceil(Math.max(frame.width, frame.height) / side));
  const known = reduced.get(frame) ?? new Map<number, Promise<ReadonlyMap<string, Float32Array>>>();
  reduced.set(frame, known);
  const elsewhere = new Set(
    open.wall.filter((p) => p.shownAs === 'ids' || p.name === 'picture').flatMap((p) => p.channels),
  );
  // What can be picked from comes first.
  while (open.coming.size > 0) await desk.nextLayer();
  const coming = known.get(by) ?? frame.reduced((name) => !elsewhere.has(name), by, { signal: desk.signal });
  known.set(by, coming);
  const planes = await coming;
  const size = { width: Math.ceil(frame.width / by), height: Math.ceil(frame.height / by) };
  const own = pass.channels.flatMap((c) => planes.get(c) ?? []);
  return onWall(open, pass, own, size, side);
}

/** What a pass on the wall looks like; undefined where there is no such pass. */
export const pass: Question<
  {
    /** Name of a pass on the wall. */
    name: string;
    /** Longest side of the picture, in pixels. */
    side: number;
    /** Only this channel, as grey. */
    channel?: string | undefined;
    /** The pass again, if it is an ID layer: waited for. */
    layer?: string | undefined;
  },
  PassPicture | undefined
> = {
  none: undefined,
  async answer(desk, { name, side, channel }) {
    const { open } = desk;
    const own = open.wall.find((p) => p.name === name);
    if (!own) return undefined;
    if (channel === undefined) {
      const layer = open.cast.find((l) => l.name === name);
      if (own.shownAs === 'ids') return layer && idsOnWall(open, layer, side);
      if (name === 'picture') {
        // It is there already, whatever it is made of.
        const { r, g, b } = onScreen(open.planes);
        return passPicture(g === r ? [r] : [r, g, b], open.frame, 'light', side);
      }
      if (side <= SMALL) return small(desk, own, side);
    }
    const planes = await desk.planesOf(own.name, own.channels);
    const at = channel === undefined ? -1 : own.channels.indexOf(channel);
    if (at < 0) return onWall(open, own, planes, open.frame, side);
    const shownAs = own.shownAs === 'ids' ? 'range' : own.shownAs;
    return passPicture([planes[at]!], open.frame, shownAs, side, own.display);
  },
};
