import { isIn, putIn, putOut } from '@zesty-crow/core';
import { lengthIn, toShares } from '@zesty-crow/core/planes';
import { usePicture } from '../../picture/picture.ts';
import { notifyError } from '../../server/notify.ts';
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

/** Strokes go onto the mask of what is open. */
export function useBrushTarget(): BrushTarget {
  const changes = useChanges();
  const picture = usePicture();
  const view = useLook();
  const placeOf = ({ x, y }: { x: number; y: number }) => {
    const [across, down] = toShares(picture.size ?? { width: 1, height: 1 }, [x, y]);
    return [held(across), held(down)] as const;
  };
  return {
    radius: () => (picture.size ? lengthIn(picture.size, view.stroke.size) / 2 : 0),
    begin: (at) => changes.beginStroke({ ...view.stroke, points: [placeOf(at)] }),
    go: (at) => changes.goStroke(...placeOf(at)),
    end: () => changes.endStroke(),
  };
}
