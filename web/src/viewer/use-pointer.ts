import { computed, ref, shallowRef, type ComputedRef, type Ref, type ShallowRef } from 'vue';
import type { Probe } from '../picture/messages.ts';
import type { Placement } from './placement.ts';
import type { Place, ViewerTool } from './tool.ts';

interface PointerOptions {
  canvas: Ref<HTMLCanvasElement | undefined>;
  placement: Ref<Placement>;
  tool: ViewerTool;
  /** Everything at a pixel of the picture. */
  probe(x: number, y: number): Promise<Probe | undefined>;
  /** True while the button of the pointer moves the picture. */
  grabs: () => boolean;
  /** True while nothing can be taken from the picture. */
  blocked: () => boolean;
  /** What is under the pointer, and where in the viewer that is. */
  onProbe(probe: Probe | undefined, at: Place): void;
  /** The list of what lies there is asked for. */
  onMenu(probe: Probe | undefined, at: Place): void;
}

/** The pointer over the picture: what lies under it is looked up, and what it does is the tool's business. */
export function usePointer({
  canvas,
  placement,
  tool,
  probe,
  grabs,
  blocked,
  onProbe,
  onMenu,
}: PointerOptions): {
  over: Ref<boolean>;
  /** A button is down. */
  held: Ref<boolean>;
  /** Where it is in the viewer. */
  pointer: ShallowRef<Place>;
  /** Where a click waits for IDs that are still being read, on the screen. */
  waiting: ComputedRef<Place | undefined>;
  /** What a canvas listens to. */
  listeners: Record<string, (e: never) => void>;
} {
  const over = ref(false);
  const held = ref(false);
  const pointer = shallowRef<Place>({ x: 0, y: 0 });

  function placeOf(e: MouseEvent): { screen: Place; at: Place } {
    // The pointer may be over either of two pictures that show the same place.
    const box = (e.currentTarget as HTMLElement).getBoundingClientRect();
    const screen = { x: e.clientX - box.left, y: e.clientY - box.top };
    const { k, x, y } = placement.value;
    const pen = e instanceof PointerEvent && e.pointerType === 'pen' && e.pressure > 0;
    return {
      screen,
      at: { x: (screen.x - x) / k, y: (screen.y - y) / k, ...(pen ? { pressure: e.pressure } : {}) },
    };
  }
  const probeAt = ({ x, y }: Place) => probe(Math.floor(x), Math.floor(y)).catch(() => undefined);

  let probing = false;
  let wanted: { screen: Place; at: Place } | undefined;
  /** Looks up what lies there; of places that follow faster than answers come only the last. */
  async function lookUp(next: { screen: Place; at: Place }): Promise<void> {
    wanted = next;
    if (probing) return;
    probing = true;
    while (wanted) {
      const { screen, at }: { screen: Place; at: Place } = wanted;
      wanted = undefined;
      const found = await probeAt(at);
      if (!over.value) continue;
      onProbe(found, screen);
      tool.over(found);
    }
    probing = false;
  }

  function down(e: PointerEvent): void {
    if (e.button !== 0 || grabs() || blocked()) return;
    (e.currentTarget as HTMLElement).setPointerCapture(e.pointerId);
    held.value = true;
    tool.down(placeOf(e).at);
  }
  function move(e: PointerEvent): void {
    const next = placeOf(e);
    pointer.value = next.screen;
    void lookUp(next);
    if (e.buttons & 1 && !grabs()) tool.drag(next.at);
  }
  function up(): void {
    held.value = false;
    tool.up();
  }
  function leave(): void {
    over.value = false;
    tool.leave();
    onProbe(undefined, { x: 0, y: 0 });
  }
  async function menu(e: MouseEvent): Promise<void> {
    e.preventDefault();
    const { screen, at } = placeOf(e);
    const box = canvas.value!.getBoundingClientRect();
    const own = (e.currentTarget as HTMLElement).getBoundingClientRect();
    onMenu(await probeAt(at), { x: screen.x + own.left - box.left, y: screen.y });
  }

  const waiting = computed(() => {
    const at = tool.waiting.value;
    const { k, x, y } = placement.value;
    return at && { x: at.x * k + x, y: at.y * k + y };
  });
  return {
    over,
    held,
    pointer,
    waiting,
    listeners: {
      pointerdown: down,
      pointermove: move,
      pointerup: up,
      pointercancel: up,
      pointerenter: () => (over.value = true),
      pointerleave: leave,
      contextmenu: (e: MouseEvent) => void menu(e),
    },
  };
}
