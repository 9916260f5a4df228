import { computed, shallowRef } from 'vue';
import type { Place, ToolHost, ViewerTool } from '../tool.ts';

/** What the brush works on, handed in by the screen. */
export interface BrushTarget {
  /** In picture pixels. */
  radius(): number;
  begin(at: Place): void;
  /** The stroke goes on to here. */
  go(at: Place): void;
  end(): void;
}

/** Part of the radius that a stroke goes on by at least. */
const STEP = 0.2;

/** A drag is a stroke. */
export function brushTool(host: ToolHost, target: BrushTarget): ViewerTool {
  let last: Place | undefined;
  return {
    hover: shallowRef(),
    waiting: shallowRef(),
    drawn: shallowRef(),
    reach: computed(() => target.radius()),
    down(at) {
      last = at;
      target.begin(at);
    },
    drag(at) {
      if (!last) return;
      const far = Math.hypot(at.x - last.x, at.y - last.y);
      if (far < STEP * target.radius() || far * host.scale() < 1) return;
      last = at;
      target.go(at);
    },
    up() {
      if (!last) return;
      last = undefined;
      target.end();
    },
    over: () => undefined,
    leave: () => undefined,
  };
}
