<script setup lang="ts">
import { computed } from 'vue';
import type { Change, StepUse } from '@zesty-crow/core/changes';
import { through } from '@zesty-crow/core/colour';
import { lightOfGrey } from '@zesty-crow/core/corrections';
import { usePicture } from '../../picture/picture.ts';
import { notify, notifyError } from '../../server/notify.ts';
import { useChanges } from '../../shot/changes/changes.ts';
import { useLook } from '../../shot/look.ts';

/** Takes the light from something in the picture that should be grey. */
const props = defineProps<{ change: Change; use: StepUse }>();
const picture = usePicture();
const changes = useChanges();
const view = useLook();

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
    return notify('No light makes grey look like that. Click something that should be grey, and is lit.');
  changes.setValues(props.change, 'corrections', props.use.id, light);
  await changes.commit('Take the light from the picture');
}
const take = () => view.takeColour(what.value, (_, at) => void takeFrom(at).catch(notifyError));
</script>

<template>
  <p class="paper-hint facts">
    Take the light from
    <button
      class="plain-button link"
      type="button"
      :aria-pressed="taking"
      title="The next click in the picture takes the light from what is there, as it was rendered"
      @click="take"
    >
      {{ taking ? 'click something grey…' : 'something that should be grey' }}
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
