import { through } from '@zesty-crow/core/colour';
import type { Probe } from '../picture/messages.ts';
import { usePicture } from '../picture/picture.ts';
import { notify, notifyError } from '../server/notify.ts';
import { useLook } from '../shot/look.ts';
import type { ToolHost } from '../viewer/tool.ts';
import { chosenTool } from '../viewer/tools/choice.ts';
import { TOOLS } from '../viewer/tools/registry.ts';
import { useBrushTarget, useEncloseTarget, usePickTarget } from './pointer/pick-target.ts';

/** What the pointer does in the picture, by the tool that is chosen. */
export function useStageTools() {
  const picture = usePicture();
  const view = useLook();
  const [pickTarget, encloseTarget, brushTarget] = [usePickTarget(), useEncloseTarget(), useBrushTarget()];

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
  return (host: ToolHost) =>
    chosenTool(
      {
        pick: TOOLS.pick(host, pickTarget),
        lasso: TOOLS.lasso(host, encloseTarget),
        box: TOOLS.box(host, encloseTarget),
        brush: TOOLS.brush(host, brushTarget),
        sample: TOOLS.sample(host, { take: (found) => void taken(found).catch(notifyError) }),
        value: TOOLS.value(host, {
          begin: () => view.dragged?.begin(),
          move: (by) => view.dragged?.move(by),
          end: () => view.dragged?.end(),
        }),
      },
      () => view.tool,
    );
}
