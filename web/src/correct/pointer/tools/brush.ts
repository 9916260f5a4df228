import { Brush } from '@lucide/vue';
import type { Stroke } from '@zesty-crow/core';
import { lengthIn, toShares } from '@zesty-crow/core/planes';
import { usePicture } from '../../../picture/picture.ts';
import { useChanges } from '../../../shot/changes/changes.ts';
import { useView } from '../../../shot/view.ts';
import type { Place } from '../../../viewer/tool.ts';
import { brushTool, type BrushTarget } from '../../../viewer/tools/brush.ts';
import type { StageTool } from './stage-tool.ts';

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
function useBrushTarget(): BrushTarget {
  const changes = useChanges();
  const picture = usePicture();
  const view = useView();
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

export const brush: StageTool = {
  name: 'brush',
  choice: { label: 'Brush on the mask', key: 'K', icon: Brush },
  use() {
    const target = useBrushTarget();
    return (host) => brushTool(host, target);
  },
};
