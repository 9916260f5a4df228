import { ref, shallowRef } from 'vue';
import type { ToolHost, ViewerTool } from '../tool.ts';

/** What moves a value by dragging in the picture. */
export interface ValueTarget {
  /** How far the pointer is to the right of where the button was pressed, in screen pixels. */
  begin(): void;
  move(by: number): void;
  end(): void;
}

/** Dragging to the right raises a value, to the left lowers it. */
export function valueTool(host: ToolHost, target: ValueTarget): ViewerTool {
  let from: number | undefined;
  return {
    hover: shallowRef(),
    waiting: shallowRef(),
    drawn: shallowRef(),
    reach: ref(0),
    down(at) {
      from = at.x;
      target.begin();
    },
    drag(at) {
      if (from !== undefined) target.move((at.x - from) * host.scale());
    },
    up() {
      if (from !== undefined) target.end();
      from = undefined;
    },
    over: () => undefined,
    leave: () => undefined,
  };
}
