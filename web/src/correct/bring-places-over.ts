import { watch, type Ref } from 'vue';
import { isUnplaced } from '@zesty-crow/core/changes';
import type { Version } from '@zesty-crow/server/contract';
import { usePicture } from '../picture/picture.ts';
import { useChanges } from '../shot/changes/changes.ts';

/**
 * Brings the places of a list from before version 7 over to the display window, once, when it is opened over a version:
 * only then is it known how large the picture is with its overscan. One step of the history.
 */
export function bringPlacesOver(shot: string, version: Ref<Version | undefined>): void {
  const changes = useChanges();
  const picture = usePicture();
  watch(
    [() => changes.list, () => changes.shotId, () => picture.opened],
    ([list, own, opened]) => {
      if (own !== shot || !opened || picture.versionId !== version.value?.id) return;
      if (isUnplaced(list)) changes.placeOver(opened);
    },
    { immediate: true },
  );
}
