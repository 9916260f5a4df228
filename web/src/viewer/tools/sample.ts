import { ref, shallowRef } from 'vue';
import type { Probe } from '../../picture/messages.ts';
import type { ToolHost, ViewerTool } from '../tool.ts';

/** What takes a colour from the picture. */
export interface SampleTarget {
  /** What lies at the pixel that was clicked. */
  take(found: Probe): void;
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
        if (found) target.take(found);
      }),
    drag: () => undefined,
    up: () => undefined,
    over: () => undefined,
    leave: () => undefined,
  };
}
