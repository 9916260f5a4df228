import { ref, shallowRef } from 'vue';
import type { Place, ToolHost, ViewerTool } from '../tool.ts';

/** What enclosing works on, handed in by the screen. */
export interface EncloseTarget {
  /** A closed line was drawn: places in picture pixels. */
  enclosed(line: readonly Place[]): Promise<void>;
}

/** Screen pixels between two places of a line that is drawn by hand, and from which on a drag is one. */
const STEP = 3;

/** A drag draws a closed line, by hand or from corner to corner; what is within it is the target's business. */
const encloseTool =
  (lineOf: (drawn: readonly Place[], at: Place, step: number) => Place[]) =>
  (host: ToolHost, target: EncloseTarget): ViewerTool => {
    const drawn = shallowRef<readonly Place[]>();
    let own: Place[] | undefined;
    const step = () => STEP / host.scale();
    return {
      hover: shallowRef(),
      waiting: shallowRef(),
      drawn,
      reach: ref(0),
      down: (at) => (own = [at]),
      drag(at) {
        if (!own) return;
        own = lineOf(own, at, step());
        drawn.value = own;
      },
      up() {
        const line = own ?? [];
        own = drawn.value = undefined;
        const across = (key: 'x' | 'y') =>
          Math.max(...line.map((p) => p[key])) - Math.min(...line.map((p) => p[key]));
        if (line.length > 2 && Math.max(across('x'), across('y')) > step()) void target.enclosed(line);
      },
      over: () => undefined,
      leave: () => undefined,
    };
  };

/** A line drawn by hand. */
export const lassoTool = encloseTool((line, at, step) => {
  const last = line.at(-1)!;
  return Math.hypot(at.x - last.x, at.y - last.y) < step ? [...line] : [...line, at];
});

/** A box from corner to corner. */
export const boxTool = encloseTool(([from], at) => [
  from!,
  { x: at.x, y: from!.y },
  at,
  { x: from!.x, y: at.y },
]);
