import { ref, watch, type Ref } from 'vue';
import type { Follow, Point } from '@zesty-crow/core/masks';
import { usePicture } from '../../picture/picture.ts';
import { useChanges } from '../../shot/changes/changes.ts';

/** How far a shape that follows a member is, in the open frame, from where it was placed; percent of the picture. */
export function useWay(follow: () => Follow | undefined): Ref<Point> {
  const picture = usePicture();
  const changes = useChanges();
  const way = ref<Point>([0, 0]);
  watch(
    [follow, () => changes.frame, () => picture.opened, () => picture.cast],
    async ([now]) => {
      const at = now && (await picture.middleOf(now.layer, now.member));
      // Another one may have been asked for meanwhile.
      if (now !== follow()) return;
      way.value = now && at ? [at[0] - now.from[0], at[1] - now.from[1]] : [0, 0];
    },
    { immediate: true },
  );
  return way;
}
