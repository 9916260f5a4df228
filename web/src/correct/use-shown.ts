import { computed, watch, type Ref, type ShallowRef } from 'vue';
import type { ListedChange } from '@zesty-crow/core/changes';
import { halvingsAt, type Area } from '@zesty-crow/core/planes';
import { usePicture } from '../picture/picture.ts';
import { useChanges } from '../shot/changes/changes.ts';
import { useView } from '../shot/view.ts';
import { useListed } from './use-listed.ts';

/**
 * Tells the picture all that decides what is on the screen, whenever any of it changes.
 * @param visible the part of the picture that is on the screen
 * @param zoom screen pixels a picture pixel, in percent
 * @returns tells it now
 */
export function useShown(visible: ShallowRef<Area | undefined>, zoom: Ref<number>): () => void {
  const picture = usePicture();
  const changes = useChanges();
  const view = useView();

  const listed = useListed(
    () => changes.list,
    () => ({ variant: changes.variantId, frame: changes.frame }),
  );
  const ofOther = useListed(
    () => changes.list,
    () => ({ variant: view.against.kind === 'variant' ? view.against.key : undefined, frame: changes.frame }),
  );
  /** The changes as they are to be seen now: all, or only what is open. */
  function seen(list: ListedChange[]): ListedChange[] {
    const { openHeading: over } = changes;
    const alone = (c: ListedChange) => (over ? c.over?.id === over.id : c.id === changes.openId);
    return view.alone ? list.map((c) => ({ ...c, on: c.on && alone(c) })) : list;
  }
  const shown = computed(() => seen(listed.value));
  const others = computed(() => (view.against.kind === 'variant' ? seen(ofOther.value) : undefined));
  const picking = () => view.showPicks && !view.adjusting;
  const dimming = () => view.dims && !view.adjusting;
  const show = () =>
    picture.show({
      changes: shown.value,
      openChange: changes.openId,
      mode: view.mode,
      display: { ...view.display, table: view.table?.takes },
      against: { ...view.against },
      othersChanges: others.value,
      gain: view.gain,
      warnings: [...view.warnings],
      layer: view.layer,
      limitOf: view.limitOf,
      ground: view.ground,
      openHeading: changes.openHeading,
      wanted: {
        mask: view.beside === 'mask',
        before: view.holdBefore || view.divider !== undefined || view.beside === 'before',
        // While a value is dragged, neither is shown.
        dim: picking() && dimming() && view.mode === 'picture' && changes.owner !== undefined,
        outline: picking(),
        warn: view.warnings.length > 0 && view.mode === 'picture',
      },
      visible: visible.value,
      scale: (zoom.value / 100) * devicePixelRatio,
    });
  watch(
    [
      shown,
      others,
      () => changes.openHeading,
      () => changes.openId,
      () => view.mode,
      () => ({ ...view.display }),
      () => ({ ...view.against }),
      () => view.gain,
      () => [...view.warnings],
      () => view.layer,
      () => view.limitOf,
      () => view.holdBefore,
      () => view.divider === undefined,
      picking,
      dimming,
      () => view.beside,
      () => view.ground,
      visible,
      () => halvingsAt((zoom.value / 100) * devicePixelRatio),
    ],
    show,
  );
  return show;
}
