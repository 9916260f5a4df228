import { Lasso, SquareDashed } from '@lucide/vue';
import { defineAsyncComponent, type Component } from 'vue';
import { usePicture } from '../../../picture/picture.ts';
import { useView } from '../../../shot/view.ts';
import { boxTool, lassoTool, type EncloseTarget } from '../../../viewer/tools/enclose.ts';
import { usePicking } from '../../use-picking.ts';
import type { StageTool } from './stage-tool.ts';
import { unreadable } from './unreadable.ts';

/** A lasso or a box takes what it encloses. */
function useEncloseTarget(): EncloseTarget {
  const picture = usePicture();
  const view = useView();
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

const EncloseOptions = defineAsyncComponent((): Promise<Component> => import('./EncloseOptions.vue'));

const enclosing = (
  name: string,
  choice: NonNullable<StageTool['choice']>,
  gesture: typeof lassoTool,
): StageTool => ({
  name,
  choice,
  options: EncloseOptions,
  use() {
    const target = useEncloseTarget();
    return (host) => gesture(host, target);
  },
});

export const lasso = enclosing('lasso', { label: 'Draw around', key: 'D', icon: Lasso }, lassoTool);
export const box = enclosing('box', { label: 'Box', key: 'R', icon: SquareDashed }, boxTool);
