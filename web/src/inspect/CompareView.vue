<script setup lang="ts">
import { ElOption, ElSelect } from 'element-plus';
import { onKeyStroke } from '@vueuse/core';
import { ArrowLeft } from '@lucide/vue';
import type { Comparison, Fate } from '@zesty-crow/core/inspect';
import type { Version } from '@zesty-crow/server/contract';
import { computed, ref, shallowRef, watch } from 'vue';
import { storedPreview, usePicture } from '../picture/picture.ts';
import { fileUrl } from '../server/api.ts';
import PassPicture from './PassPicture.vue';
import ShownCanvas from '../picture/ShownCanvas.vue';

/** The open version against another one: both pictures, where they differ, and what came, went or changed. */
const props = defineProps<{ version: Version; others: readonly Version[]; frame: number | undefined }>();
const emit = defineEmits<{ close: [] }>();
const picture = usePicture();
const otherId = ref(props.others[0]?.id);
const other = computed(() => props.others.find((v) => v.id === otherId.value));
const result = shallowRef<Comparison>();
const problem = ref<string>();
const preview = computed(() => other.value && storedPreview(other.value, props.frame)?.id);

let asked = 0;
watch(
  [other, () => picture.opened],
  async ([against]) => {
    if (!against || !picture.opened) return;
    const own = ++asked;
    result.value = problem.value = undefined;
    try {
      const found = await picture.compare(against, 900);
      if (own === asked) result.value = found;
    } catch (error) {
      if (own === asked) problem.value = error instanceof Error ? error.message : String(error);
    }
  },
  { immediate: true },
);
const WORDS: Record<Exclude<Fate, 'same'>, string> = { came: 'new', went: 'gone', changed: 'changed' };
const changedPasses = computed(() => (result.value?.passes ?? []).filter((p) => p.fate !== 'same'));
const percent = computed(() => {
  const { pixels } = result.value?.difference ?? { pixels: 0 };
  const all = (picture.size?.width ?? 1) * (picture.size?.height ?? 1);
  const share = (100 * pixels) / all;
  return share === 0
    ? 'no pixel'
    : share < 0.1
      ? 'less than 0.1 % of the pixels'
      : `${share.toFixed(1)} % of the pixels`;
});
/** Members that are listed of a layer. */
const MOST = 300;
onKeyStroke('Escape', () => emit('close'));
</script>

<template>
  <section class="compare" aria-label="Versions side by side">
    <header class="room-bar">
      <button class="plain-button back" type="button" title="Back to the wall (Esc)" @click="emit('close')">
        <ArrowLeft :size="16" /> All passes
      </button>
      <span>v{{ version.number }} against</span>
      <ElSelect v-model="otherId" size="small" class="choice" aria-label="Version to compare with">
        <ElOption v-for="v in others" :key="v.id" :value="v.id" :label="`v${v.number}`" />
      </ElSelect>
    </header>
    <div class="scroll below">
      <div class="pictures">
        <figure>
          <div class="hang"><img v-if="preview" :src="fileUrl(preview)" alt="" /></div>
          <figcaption>v{{ other?.number }}</figcaption>
        </figure>
        <figure>
          <div class="hang"><PassPicture name="picture" :side="900" /></div>
          <figcaption>v{{ version.number }}</figcaption>
        </figure>
        <figure>
          <div class="hang"><ShownCanvas :shown="result?.difference?.picture" class="whole" /></div>
          <figcaption v-if="result?.difference">
            Difference, {{ result.difference.gain }} times: {{ percent }}, at most
            {{ Math.round(result.difference.most) }} of 255 steps
          </figcaption>
          <figcaption v-else-if="result?.sizes">
            {{ result.sizes[0] }} and {{ result.sizes[1] }}: too different for a difference
          </figcaption>
          <figcaption v-else>Difference</figcaption>
        </figure>
      </div>
      <p v-if="problem" role="alert">{{ problem }}</p>
      <p v-else-if="!result" role="status">Comparing…</p>
      <div v-else class="lists">
        <section aria-label="Passes">
          <h2>Passes</h2>
          <p v-if="changedPasses.length === 0" class="quiet">All are the same.</p>
          <ul>
            <li v-for="p in changedPasses" :key="p.name" :data-fate="p.fate">
              <b>{{ WORDS[p.fate as keyof typeof WORDS] }}</b>
              <span class="cut">{{ p.name === 'picture' ? 'Picture' : p.name }}</span>
            </li>
          </ul>
        </section>
        <section v-for="l in result.layers" :key="l.name" :aria-label="l.name">
          <h2 class="cut">{{ l.name }}</h2>
          <p v-if="l.members.length === 0" class="quiet">All members are the same.</p>
          <ul>
            <li v-for="m in l.members.slice(0, MOST)" :key="m.name" :data-fate="m.fate">
              <b>{{ WORDS[m.fate as keyof typeof WORDS] }}</b>
              <span class="cut" :title="m.name">{{ m.name }}</span>
              <span class="quiet"
                >{{ m.pixels[0].toLocaleString('en') }} → {{ m.pixels[1].toLocaleString('en') }}</span
              >
            </li>
          </ul>
          <p v-if="l.members.length > MOST" class="quiet">and {{ l.members.length - MOST }} more</p>
        </section>
      </div>
    </div>
  </section>
</template>

<style scoped>
.compare {
  display: flex;
  flex-direction: column;
  flex: 1;
  min-height: 0;
  color: var(--on-room);
}
.back {
  display: flex;
  align-items: center;
  gap: 5px;
}
.choice {
  width: 90px;
  flex: none;
}
.below {
  flex: 1;
  padding: 14px 16px;
}
.pictures {
  display: grid;
  grid-template-columns: repeat(auto-fit, minmax(280px, 1fr));
  gap: 14px;
}
figure {
  margin: 0;
}
.hang {
  aspect-ratio: 16 / 9;
  background: #3a3a3a;
}
.hang img,
.whole {
  width: 100%;
  height: 100%;
  object-fit: contain;
}
figcaption {
  padding-top: 4px;
}
.lists {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(300px, 1fr));
  gap: 20px;
  margin-top: 14px;
}
h2 {
  margin: 0 0 4px;
  font-size: 15px;
}
ul {
  list-style: none;
  margin: 0;
  padding: 0;
}
li {
  display: grid;
  grid-template-columns: 70px 1fr auto;
  gap: 8px;
  padding: 2px 0;
}
.quiet {
  color: var(--on-room-quiet);
}
</style>
