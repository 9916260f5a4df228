import { computed } from 'vue';
import type { ViewerTool } from '../tool.ts';

/** One of several tools at a time; a drag stays with the one that it began with. */
export function chosenTool(tools: ReadonlyMap<string, ViewerTool>, chosen: () => string): ViewerTool {
  const now = computed(() => tools.get(chosen())!);
  let held: ViewerTool | undefined;
  return {
    hover: computed(() => now.value.hover.value),
    waiting: computed(() => now.value.waiting.value),
    drawn: computed(() => now.value.drawn.value),
    reach: computed(() => now.value.reach.value),
    down(at) {
      held = now.value;
      held.down(at);
    },
    drag: (at) => held?.drag(at),
    up() {
      held?.up();
      held = undefined;
    },
    over: (probe) => now.value.over(probe),
    leave() {
      for (const tool of tools.values()) tool.leave();
    },
  };
}
