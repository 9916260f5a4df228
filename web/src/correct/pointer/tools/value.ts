import { useView } from '../../../shot/view.ts';
import { valueTool } from '../../../viewer/tools/value.ts';
import type { StageTool } from './stage-tool.ts';

/** Drags the value of a setting that asked for it. */
export const value: StageTool = {
  name: 'value',
  use() {
    const view = useView();
    return (host) =>
      valueTool(host, {
        begin: () => view.dragged?.begin(),
        move: (by) => view.dragged?.move(by),
        end: () => view.dragged?.end(),
      });
  },
};
