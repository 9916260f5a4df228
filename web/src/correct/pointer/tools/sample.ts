import { through } from '@zesty-crow/core/colour';
import type { Probe } from '../../../picture/messages.ts';
import { usePicture } from '../../../picture/picture.ts';
import { notify, notifyError } from '../../../server/notify.ts';
import { useView } from '../../../shot/view.ts';
import { sampleTool } from '../../../viewer/tools/sample.ts';
import type { StageTool } from './stage-tool.ts';

/** Takes a colour for a setting that asked for one. */
export const sample: StageTool = {
  name: 'sample',
  use() {
    const picture = usePicture();
    const view = useView();

    /** Hands a colour of the picture over to what asked for it: of the pixel, or of the member there. */
    async function taken(found: Probe): Promise<void> {
      const { toScreen } = picture.opened ?? {};
      const own = found.layers.find((l) => l.layer === view.layer)?.ids[0];
      // Colours that are chosen are those of the screen.
      const colour = view.takingPart
        ? own && (await picture.meanOf(view.layer!, [own.id]))
        : toScreen
          ? through(toScreen, found.after)
          : found.after;
      if (colour) view.colourTaken(colour, { x: found.x, y: found.y });
      else notify('Nothing that has an ID is there.');
    }
    return (host) => sampleTool(host, { take: (found) => void taken(found).catch(notifyError) });
  },
};
