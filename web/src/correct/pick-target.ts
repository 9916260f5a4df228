import { isIn, putIn, putOut } from '@zesty-crow/core';
import { usePicture } from '../picture/picture.ts';
import type { PickTarget } from '../viewer/tools/pick.ts';
import { notifyError } from '../server/notify.ts';
import { layerLabel } from './layer-label.ts';
import { useChanges } from './changes.ts';
import { useLook } from './look.ts';

/** Picking in the Correct stage: clicks and sweeps put members into the open change, or out of it. */
export function usePickTarget(): PickTarget {
  const changes = useChanges();
  const picture = usePicture();
  const view = useLook();
  const who = () => changes.open?.who ?? [];
  return {
    layer: () => view.layer,
    behind: () => view.behind,
    isIn: (layer, member) => isIn(who(), layer, member),
    put: (layer, member, way) =>
      changes.setWho(way === 'in' ? putIn(who(), layer, member) : putOut(who(), layer, member)),
    async done(way, names) {
      const what = names.length === 1 ? names[0]! : `${names.length} members`;
      await changes.commit(`${way === 'in' ? 'Put in' : 'Take out'} ${what}`.slice(0, 200));
    },
    membersAlong: (layer, from, to) => picture.membersAlong(layer, from.x, from.y, to.x, to.y),
    outline: (layer, id) => picture.memberOutline(layer, id),
    state: (layer) => picture.cast.find((l) => l.name === layer)?.state ?? 'failed',
    dropped: (layer) =>
      notifyError(new Error(`The click was dropped: the IDs of ${layerLabel(layer)} cannot be read.`)),
  };
}
