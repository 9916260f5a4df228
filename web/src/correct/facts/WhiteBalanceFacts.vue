<script setup lang="ts">
import { computed } from 'vue';
import type { Change, StepUse } from '@zesty-crow/core/changes';
import { through } from '@zesty-crow/core/colour';
import { lightOfGrey } from '@zesty-crow/core/corrections';
import { usePicture } from '../../picture/picture.ts';
import { notify, notifyError } from '../../server/notify.ts';
import { useChanges } from '../../shot/changes/changes.ts';
import { useView } from '../../shot/view.ts';

/** Sets the light so that something in the picture becomes neutral. */
const props = defineProps<{ change: Change; use: StepUse }>();
const picture = usePicture();
const changes = useChanges();
const view = useView();

/** Pixels of a side that are taken together, so that noise names no light. */
const SIDE = 5;
const what = computed(() => `${props.use.id} light`);
const taking = computed(() => view.sampling === what.value);

async function takeFrom(at: { x: number; y: number }): Promise<void> {
  const [found] = await picture.samples([{ ...at, side: SIDE }]);
  const { toScreen, white } = picture.opened ?? {};
  const seen = found && (toScreen ? through(toScreen, found.before) : found.before);
  const light = seen && lightOfGrey(seen, white);
  if (!light)
    return notify(
      'No light source gives a neutral surface that colour. Click a lit area that should be neutral.',
    );
  changes.setValues(props.change, 'corrections', props.use.id, light);
  await changes.commit('Set white balance from the picture');
}
const take = () => view.takeColour(what.value, (_, at) => void takeFrom(at).catch(notifyError));
</script>

<template>
  <p class="paper-hint facts">
    Set from
    <button
      class="plain-button link"
      type="button"
      :aria-pressed="taking"
      title="The next click in the picture makes what is there neutral, as it was rendered"
      @click="take"
    >
      {{ taking ? 'click a neutral area…' : 'a neutral area of the picture' }}
    </button>
  </p>
</template>

<style scoped>
.facts {
  margin: 4px 0 8px;
}
.link {
  text-decoration: underline;
}
</style>
