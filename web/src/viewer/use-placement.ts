import { useDebounceFn } from '@vueuse/core';
import { select } from 'd3-selection';
import 'd3-transition';
import { zoom, zoomIdentity, type D3ZoomEvent } from 'd3-zoom';
import { computed, onMounted, ref, watch, type ComputedRef, type Ref } from 'vue';
import type { Area, Size } from '@zesty-crow/core/planes';
import type { Placement } from './placement.ts';

/** Room around a fitted picture, in screen pixels. */
const MARGIN = 8;
/** So long the picture must rest until it is told what of it is on the screen, in milliseconds. */
const VISIBLE_AFTER = 80;
const SCALES: [number, number] = [0.02, 64];

interface PlacementOptions {
  canvas: Ref<HTMLCanvasElement | undefined>;
  /** Another one beside it, which shows the same place. */
  second: Ref<HTMLCanvasElement | undefined>;
  /** Pixels across and down of the picture, once they are known. */
  picture: () => Size | undefined;
  /** True while the button of the pointer moves the picture. */
  grabs: () => boolean;
  onZoomed(percent: number): void;
  onVisible(area: Area): void;
}

/** Where the picture lies in the viewer: fitted, zoomed with the wheel or the fingers, and moved. */
export function usePlacement({ canvas, second, picture, grabs, onZoomed, onVisible }: PlacementOptions): {
  placement: Ref<Placement>;
  /** Of the viewer, in screen pixels. */
  size: Ref<Size>;
  /** Where the picture lies in the viewer, in screen pixels; also what of it is out of sight. */
  box: ComputedRef<Area | undefined>;
  /** What is on the screen is about to be told. */
  framing: Ref<boolean>;
  /** Fits it if it was fitted before. */
  refit(): void;
  fit(): void;
  zoomTo(k: number): void;
  zoomBy(factor: number): void;
  reveal(area: Area): void;
} {
  const placement = ref<Placement>({ k: 1, x: 0, y: 0 });
  const size = ref<Size>({ width: 1, height: 1 });
  /** The whole picture is shown: it is fitted again when the room for it changes. */
  let fitted = true;

  const zooming = () =>
    zoom<HTMLCanvasElement, unknown>()
      .scaleExtent(SCALES)
      .filter((e: MouseEvent) => e.type === 'wheel' || e.button === 1 || (e.button === 0 && grabs()));
  const behaviour = zooming().on('zoom', (e: D3ZoomEvent<HTMLCanvasElement, unknown>) => {
    placement.value = { k: e.transform.k, x: e.transform.x, y: e.transform.y };
    if (second.value) select(second.value).property('__zoom', e.transform);
    // Someone's hand moved it; a fit is no event of anyone's.
    if (e.sourceEvent) fitted = false;
    onZoomed(e.transform.k * 100);
  });
  // Zoomed there, the picture follows, and then it.
  const besideBehaviour = zooming().on('zoom', (e: D3ZoomEvent<HTMLCanvasElement, unknown>) => {
    if (!e.sourceEvent || !canvas.value) return;
    fitted = false;
    select(canvas.value).call(behaviour.transform, e.transform);
  });
  onMounted(() => select(canvas.value!).call(behaviour).on('dblclick.zoom', null));
  watch(second, (element) => {
    if (!element) return;
    select(element).call(besideBehaviour).on('dblclick.zoom', null);
    const { k, x, y } = placement.value;
    select(element).property('__zoom', zoomIdentity.translate(x, y).scale(k));
  });

  function setPlace(k: number, x: number, y: number): void {
    if (canvas.value) select(canvas.value).call(behaviour.transform, zoomIdentity.translate(x, y).scale(k));
  }
  function fit(): void {
    const o = picture();
    if (!o) return;
    const { width, height } = size.value;
    const k = Math.min((width - 2 * MARGIN) / o.width, (height - 2 * MARGIN) / o.height);
    if (!(k > 0)) return;
    // As high as it goes: what is left is one room below it, where scopes lie.
    setPlace(k, (width - o.width * k) / 2, MARGIN);
    fitted = true;
  }
  /** Zooms about the viewer's middle to a scale of picture pixels to screen pixels. */
  function zoomTo(k: number): void {
    fitted = false;
    if (canvas.value) select(canvas.value).call(behaviour.scaleTo, k);
  }
  /** Brings a place of the picture into view, if it is not. */
  function reveal({ x0, y0, x1, y1 }: Area): void {
    const { k, x, y } = placement.value;
    const { width, height } = size.value;
    const seen = x0 * k + x < width && x1 * k + x > 0 && y0 * k + y < height && y1 * k + y > 0;
    if (seen) return;
    fitted = false;
    setPlace(k, width / 2 - (k * (x0 + x1)) / 2, height / 2 - (k * (y0 + y1)) / 2);
  }

  const framing = ref(false);
  const tellVisible = useDebounceFn(() => {
    framing.value = false;
    const o = picture();
    if (!o) return;
    const { k, x, y } = placement.value;
    onVisible({
      x0: Math.max(0, -x / k),
      y0: Math.max(0, -y / k),
      x1: Math.min(o.width, (size.value.width - x) / k),
      y1: Math.min(o.height, (size.value.height - y) / k),
    });
  }, VISIBLE_AFTER);
  watch([placement, size, picture], () => {
    framing.value = true;
    void tellVisible();
  });

  const box = computed((): Area | undefined => {
    const o = picture();
    const { k, x, y } = placement.value;
    return o && { x0: x, y0: y, x1: x + k * o.width, y1: y + k * o.height };
  });
  return {
    placement,
    size,
    box,
    framing,
    refit: () => fitted && fit(),
    fit,
    zoomTo,
    zoomBy: (factor) => zoomTo(placement.value.k * factor),
    reveal,
  };
}
