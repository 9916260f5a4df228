import { ref, shallowRef } from 'vue';
import type { ToolHost, ViewerTool } from '../tool.ts';

/** What takes a colour from the picture. */
export interface SampleTarget {
  /** Scene-linear values of a pixel as it is shown, and where it is. */
  take(colour: readonly [number, number, number], at: { x: number; y: number }): void;
}

/** A click takes the colour of a pixel. */
export function sampleTool(host: ToolHost, target: SampleTarget): ViewerTool {
  return {
    hover: shallowRef(),
    waiting: shallowRef(),
    drawn: shallowRef(),
    reach: ref(0),
    down: (at) =>
      void host.probe(at).then((found) => {
        if (found) target.take(found.after, { x: found.x, y: found.y });
      }),
    drag: () => undefined,
    up: () => undefined,
    over: () => undefined,
    leave: () => undefined,
  };
}
