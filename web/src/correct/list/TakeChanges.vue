<script setup lang="ts">
import { ElButton, ElDialog, ElOption, ElSelect } from 'element-plus';
import { computed, ref } from 'vue';
import { upgradeChangeList, type ChangeList } from '@zesty-crow/core/changes';
import type { ShotCard, Version } from '@zesty-crow/server/contract';
import { api } from '../../server/api.ts';
import { notifyError } from '../../server/notify.ts';
import { useChanges } from '../../shot/changes/changes.ts';

/** Takes the changes of another shot, as of the same things from another side; they come after those of this one. */
const emit = defineEmits<{
  close: [];
  /** They are taken; these are the versions that their picks were made in, latest first. */
  taken: [versions: Version[], shot: string];
}>();
const changes = useChanges();
const shots = ref<ShotCard[]>([]);
const chosen = ref('');
const list = ref<ChangeList>();
const words = computed(() => list.value?.changes.map((c) => c.words || 'New change') ?? []);
const told = computed(() => {
  if (!list.value) return '';
  const variants = list.value.variants.length;
  const count = words.value.length === 1 ? '1 change' : `${words.value.length} changes`;
  if (words.value.length === 0) return 'This shot has no changes.';
  return variants ? `${count} and ${variants === 1 ? '1 variant' : `${variants} variants`}:` : `${count}:`;
});

api
  .shots()
  .then((all) => (shots.value = all.filter((s) => s.id !== changes.shotId)))
  .catch(notifyError);
async function choose(id: string): Promise<void> {
  chosen.value = id;
  list.value = undefined;
  const { body } = await api.document('changes', id);
  if (chosen.value === id) list.value = upgradeChangeList(body) as ChangeList;
}
async function take(): Promise<void> {
  if (!list.value) return;
  const { name, versions } = await api.shot(chosen.value);
  changes.takeAll(list.value, name);
  emit('taken', versions, name);
}
</script>

<template>
  <ElDialog
    model-value
    title="Take the changes of another shot"
    width="520"
    append-to-body
    @close="emit('close')"
  >
    <ElSelect
      :model-value="chosen"
      aria-label="Shot"
      placeholder="Choose a shot"
      @update:model-value="choose($event as string).catch(notifyError)"
    >
      <ElOption v-for="s in shots" :key="s.id" :value="s.id" :label="s.name" />
    </ElSelect>
    <p v-if="shots.length === 0" class="paper-hint">There is no other shot.</p>
    <p role="status">{{ told }}</p>
    <ul>
      <li v-for="(w, i) in words" :key="i" class="cut">{{ w }}</li>
    </ul>
    <p v-if="words.length" class="paper-hint">
      They come after the changes of this shot. Then you see which of their members are found here.
    </p>
    <template #footer>
      <ElButton @click="emit('close')">Cancel</ElButton>
      <ElButton type="primary" :disabled="words.length === 0" @click="take().catch(notifyError)">
        {{ words.length === 1 ? 'Take 1 change' : `Take ${words.length} changes` }}
      </ElButton>
    </template>
  </ElDialog>
</template>

<style scoped>
.el-select {
  width: 100%;
}
ul {
  max-height: 240px;
  margin: 0;
  padding-left: 20px;
  overflow-y: auto;
}
</style>
