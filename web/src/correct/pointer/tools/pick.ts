import { MousePointerClick } from '@lucide/vue';
import { isIn, putIn, putOut } from '@zesty-crow/core';
import { usePicture } from '../../../picture/picture.ts';
import { useChanges } from '../../../shot/changes/changes.ts';
import { useView } from '../../../shot/view.ts';
import { pickTool, type PickTarget } from '../../../viewer/tools/pick.ts';
import { useRecentPicks } from '../../sheet/recent-picks.ts';
import { usePicking } from '../../use-picking.ts';
import type { StageTool } from './stage-tool.ts';
import { unreadable } from './unreadable.ts';

/** Clicks and sweeps put members into what is open, or out of it. */
function usePickTarget(): PickTarget {
  const changes = useChanges();
  const picture = usePicture();
  const view = useView();
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

export const pick: StageTool = {
  name: 'pick',
  choice: { label: 'Click and sweep', key: 'C', icon: MousePointerClick },
  use() {
    const target = usePickTarget();
    return (host) => pickTool(host, target);
  },
};
