<script setup lang="ts">
import { computed, ref } from 'vue';
import { useRouter } from 'vue-router';
import type { Change, StepUse } from '@zesty-crow/core/changes';
import { limitsOf } from '@zesty-crow/core/corrections';
import { amountOf, type ColourValue } from '@zesty-crow/core/fields';
import { usePicture } from '../../picture/picture.ts';
import { usePlan } from '../../prepare/plan.ts';
import { notifyError } from '../../server/notify.ts';
import { useChanges } from '../changes.ts';
import { reached } from './recolour-words.ts';

/** How a part is recoloured, how near it comes to the swatch, and what would do better. */
const props = defineProps<{ change: Change; use: StepUse }>();
const picture = usePicture();
const changes = useChanges();
const plan = usePlan();
const router = useRouter();

const LIGHT = ['diffuse-direct', 'diffuse-indirect'] as const;
const swatch = computed(() => props.use.values['swatch'] as ColourValue | undefined);
const byPasses = computed(() => Boolean(props.use.values['direct']));
const found = computed(() => {
  const mean = picture.swatches[props.change.id]?.mean;
  if (!mean || !swatch.value || !props.use.on || !props.change.on) return undefined;
  return reached(mean, swatch.value, {
    amount: Math.round(100 * amountOf(props.use.values)),
    alone: props.change.corrections.filter((c) => c.on).length === 1 && changes.list.changes.length === 1,
    limited: limitsOf(props.use.values) !== undefined,
  });
});

/** Plans the passes that would do better, and goes to where they are rendered. */
const busy = ref(false);
async function planLight(): Promise<void> {
  const id = changes.shotId;
  if (!id || busy.value) return;
  busy.value = true;
  try {
    await plan.load(id);
    for (const kind of LIGHT) if (!plan.plan.passes.some((p) => p.kind === kind && p.on)) plan.addPass(kind);
    await router.push(`/shots/${id}/render`);
  } catch (error) {
    notifyError(error);
  } finally {
    busy.value = false;
  }
}
</script>

<template>
  <p class="paper-hint facts">
    <template v-if="!swatch">Choose a swatch: type it, or take it from the picture.</template>
    <strong v-else-if="found" role="status">{{ found }}</strong>
    <template v-if="byPasses"> By light passes: only scattered light takes the colour.</template>
    <template v-else>
      From the picture alone: highlights are told by their colour. Grey, very dark or two-coloured glossy
      things come out better by light passes.
      <button class="plain-button link" type="button" :disabled="busy" @click="planLight">
        Render light passes
      </button>
    </template>
  </p>
</template>

<style scoped>
.facts {
  margin: 4px 0 8px;
}
strong {
  font-weight: 550;
  color: var(--ink);
}
.link {
  text-decoration: underline;
}
</style>
