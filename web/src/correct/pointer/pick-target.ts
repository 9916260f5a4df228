import { isIn, putIn, putOut, type Stroke } from '@zesty-crow/core';
import { lengthIn, toShares } from '@zesty-crow/core/planes';
import { usePicture } from '../../picture/picture.ts';
import { notifyError } from '../../server/notify.ts';
import type { Place } from '../../viewer/tool.ts';
import type { BrushTarget } from '../../viewer/tools/brush.ts';
import type { EncloseTarget } from '../../viewer/tools/enclose.ts';
import type { PickTarget } from '../../viewer/tools/pick.ts';
import { useChanges } from '../../shot/changes/changes.ts';
import { layerLabel } from '../layer-label.ts';
import { useLook } from '../../shot/look.ts';
import { useRecentPicks } from '../sheet/recent-picks.ts';
import { usePicking } from '../use-picking.ts';

const unreadable = (layer: string) =>
  notifyError(new Error(`The click was dropped: the IDs of ${layerLabel(layer)} cannot be read.`));

/** Picking in the Correct stage: clicks and sweeps put members into what is open, or out of it. */
export function usePickTarget(): PickTarget {
  const changes = useChanges();
  const picture = usePicture();
  const view = useLook();
  const recent = useRecentPicks();
  const picking = usePicking();
  const who = () => changes.owner?.who ?? [];
  /** The click has taken the place of a pick: what it sweeps on over is not meant. */
  let swapped = false;
  return {
    layer: () => view.layer,
    behind: () => view.behind,
    isIn: (layer, member) => isIn(who(), layer, member),
    put(layer, member, way) {
      if (view.swapping !== undefined) swapped = picking.swap(layer, member.name);
      else if (!swapped)
        changes.setWho(way === 'in' ? putIn(who(), layer, member) : putOut(who(), layer, member));
    },
    async done(way, names) {
      if (swapped) {
        swapped = false;
        return;
      }
      const layer = view.layer;
      if (way === 'in' && layer !== undefined)
        recent.note(...names.slice(0, 3).map((member) => ({ layer, member })));
      const what = names.length === 1 ? names[0]! : `${names.length} members`;
      await changes.commit(`${way === 'in' ? 'Put in' : 'Take out'} ${what}`.slice(0, 200));
    },
    membersAlong: (layer, from, to) => picture.membersAlong(layer, from.x, from.y, to.x, to.y),
    outline: (layer, id) => picture.memberOutline(layer, [id]),
    state: (layer) => picture.cast.find((l) => l.name === layer)?.state ?? 'failed',
    dropped: unreadable,
  };
}

/** A lasso or a box takes what it encloses. */
export function useEncloseTarget(): EncloseTarget {
  const picture = usePicture();
  const view = useLook();
  const picking = usePicking();
  return {
    async enclosed(line) {
      const { layer } = view;
      if (layer === undefined) return;
      const found = await picture.membersWithin(
        layer,
        line.flatMap((p) => [p.x, p.y]),
        view.enclosed,
      );
      if (picture.cast.find((l) => l.name === layer)?.state === 'failed') return void unreadable(layer);
      picking.take(layer, found);
    },
  };
}

/** How far outside the display window a stroke may go, in percent of it. */
const held = (percent: number) => Math.min(200, Math.max(-100, percent));

/** Part of the size that the lightest touch of a pen draws with. */
const LIGHTEST = 0.15;
/** Differences of size that are not drawn. */
const FINEST = 0.06;
/** Part of the brush's size that a pen's pressure means; all of it for what is not a pen. */
const pressed = ({ pressure }: Place): number =>
  pressure === undefined ? 1 : LIGHTEST + (1 - LIGHTEST) * pressure;

/** Strokes go onto the mask of what is open. */
export function useBrushTarget(): BrushTarget {
  const changes = useChanges();
  const picture = usePicture();
  const view = useLook();
  /** Part of the size with which the stroke under way is drawn, and where it is. */
  let drawn = 1;
  let at: readonly [number, number] | undefined;
  const strokeOf = (...points: (readonly [number, number])[]): Stroke => ({
    ...view.stroke,
    size: view.stroke.size * drawn,
    points,
  });
  const placeOf = ({ x, y }: { x: number; y: number }) => {
    const [across, down] = toShares(picture.size ?? { width: 1, height: 1 }, [x, y]);
    return [held(across), held(down)] as const;
  };
  return {
    radius: () => (picture.size ? lengthIn(picture.size, view.stroke.size) / 2 : 0),
    begin(place) {
      drawn = pressed(place);
      at = placeOf(place);
      changes.beginStroke(strokeOf(at));
    },
    go(place) {
      const next = placeOf(place);
      // A pen that is pressed otherwise draws on with a brush of another size.
      if (Math.abs(pressed(place) - drawn) > FINEST) {
        drawn = pressed(place);
        changes.beginStroke(strokeOf(at ?? next, next));
      } else changes.goStroke(...next);
      at = next;
    },
    end: () => changes.endStroke(),
  };
}
