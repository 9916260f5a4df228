import { watch, type Ref, type ShallowRef } from 'vue';
import { listedChanges, type Heading, type ListedChange } from '@zesty-crow/core/changes';
import { halvingsAt, type Area } from '@zesty-crow/core/planes';
import { usePicture } from '../picture/picture.ts';
import { useChanges } from '../shot/changes/changes.ts';
import { useLook } from '../shot/look.ts';

/**
 * Tells the picture all that decides what is on the screen, whenever any of it changes.
 * @param visible the part of the picture that is on the screen
 * @param zoom screen pixels a picture pixel, in percent
 * @returns tells it now
 */
export function useShown(visible: ShallowRef<Area | undefined>, zoom: Ref<number>): () => void {
  const picture = usePicture();
  const changes = useChanges();
  const view = useLook();

  /** The changes as they are to be seen now. */
  function shownChanges(variant = changes.variantId): ListedChange[] {
    const list = JSON.parse(
      JSON.stringify(listedChanges(changes.list, { variant, frame: changes.frame })),
    ) as ListedChange[];
    const { openHeading: over } = changes;
    const alone = (c: ListedChange) => (over ? c.over?.id === over.id : c.id === changes.openId);
    return view.alone ? list.map((c) => ({ ...c, on: c.on && alone(c) })) : list;
  }
  const picking = () => view.showPicks && !view.adjusting;
  const dimming = () => view.dims && !view.adjusting;
  const show = () =>
    picture.show({
      changes: shownChanges(),
      openChange: changes.openId,
      look: view.look,
      display: { ...view.display, table: view.table?.takes },
      against: { ...view.against },
      othersChanges: view.against.kind === 'variant' ? shownChanges(view.against.key) : undefined,
      gain: view.gain,
      warnings: [...view.warnings],
      layer: view.layer,
      limitOf: view.limitOf,
      ground: view.ground,
      openHeading: changes.openHeading && (JSON.parse(JSON.stringify(changes.openHeading)) as Heading),
      wanted: {
        mask: view.beside === 'mask',
        before: view.holdBefore || view.divider !== undefined || view.beside === 'before',
        // While a value is dragged, neither is shown.
        dim: picking() && dimming() && view.look === 'picture' && changes.owner !== undefined,
        outline: picking(),
        warn: view.warnings.length > 0 && view.look === 'picture',
      },
      visible: visible.value,
      scale: (zoom.value / 100) * devicePixelRatio,
    });
  watch(
    [
      () => changes.shown,
      () => changes.openId,
      () => view.look,
      () => view.display,
      () => view.against,
      () => view.gain,
      () => view.warnings,
      () => view.layer,
      () => view.limitOf,
      () => view.holdBefore,
      () => view.divider === undefined,
      picking,
      dimming,
      () => view.alone,
      () => view.beside,
      () => view.ground,
      visible,
      () => halvingsAt((zoom.value / 100) * devicePixelRatio),
    ],
    show,
    { deep: true },
  );
  return show;
}
