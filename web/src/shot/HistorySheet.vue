<script setup lang="ts">
import { ElButton, ElDialog, ElInput } from 'element-plus';
import { Trash2 } from '@lucide/vue';
import { computed, ref, shallowRef, watch } from 'vue';
import type { HistoryStep, NamedState } from '@zesty-crow/server/contract';
import { notifyError } from '../server/notify.ts';
import type { Undoable } from './document.ts';

/** All steps of a document in words, the newest first, any of them a click away; and states that have a name. */
const props = defineProps<{ document: Undoable }>();
defineEmits<{ close: [] }>();

const steps = shallowRef<HistoryStep[]>([]);
const at = ref(0);
const states = shallowRef<NamedState[]>([]);
/** There are older ones than those that are shown. */
const more = computed(() => !ended.value && (steps.value.at(-1)?.step ?? 1) > 1);
/** What was before the oldest one is not known any more. */
const ended = ref(false);
const name = ref('');

async function read(): Promise<void> {
  const [told, kept] = await Promise.all([props.document.steps(), props.document.states()]);
  steps.value = told.steps;
  at.value = told.at;
  states.value = kept;
}
async function readMore(): Promise<void> {
  const told = await props.document.steps(steps.value.at(-1)?.step);
  ended.value = told.steps.length === 0;
  steps.value = [...steps.value, ...told.steps];
}
// What is done meanwhile, here or in another window, joins the list.
watch(
  [() => props.document.undoLabel, () => props.document.redoLabel, () => props.document.saving],
  () => void read().catch(notifyError),
  {
    immediate: true,
  },
);

const doing = async (work: Promise<unknown>) => {
  try {
    await work;
    await read();
  } catch (error) {
    notifyError(error);
  }
};
function keep(): void {
  const own = name.value.trim();
  if (own === '') return;
  name.value = '';
  void doing(props.document.keepState(own));
}
const when = (text: string) =>
  new Date(text).toLocaleString('en', { month: 'short', day: 'numeric', hour: '2-digit', minute: '2-digit' });
</script>

<template>
  <ElDialog model-value title="History" width="640" append-to-body @close="$emit('close')">
    <div class="halves">
      <section aria-label="Steps">
        <h3>What was done</h3>
        <ol>
          <li v-for="s in steps" :key="s.step">
            <button
              class="plain-button row"
              type="button"
              :class="{ undone: s.step > at }"
              :aria-current="s.step === at"
              :title="
                s.step === at ? 'It is here now' : s.step > at ? 'Do again up to here' : 'Go back to here'
              "
              @click="doing(document.goTo(s.step))"
            >
              <span class="cut">{{ s.label }}</span><small>{{ when(s.created) }}</small>
            </button>
          </li>
          <li v-if="more">
            <button class="plain-button row" type="button" @click="doing(readMore())">
              Show earlier ones
            </button>
          </li>
          <li v-else-if="steps.at(-1)?.step === 1">
            <button
              class="plain-button row"
              type="button"
              :aria-current="at === 0"
              @click="doing(document.goTo(0))"
            >
              The beginning
            </button>
          </li>
        </ol>
        <p v-if="steps.length === 0" class="paper-hint">Nothing was done yet.</p>
      </section>
      <section aria-label="States">
        <h3>States with a name</h3>
        <ul>
          <li v-for="s in states" :key="s.id">
            <button
              class="plain-button row"
              type="button"
              title="Go back to it"
              @click="doing(document.backToState(s))"
            >
              <span class="cut">{{ s.name }}</span><small>{{ when(s.created) }}</small>
            </button>
            <button
              class="plain-button bin"
              type="button"
              :aria-label="`Delete ${s.name}`"
              @click="doing(document.dropState(s.id))"
            >
              <Trash2 :size="14" :stroke-width="1.6" />
            </button>
          </li>
        </ul>
        <form @submit.prevent="keep">
          <ElInput
            v-model="name"
            size="small"
            maxlength="200"
            placeholder="As sent on Friday"
            aria-label="Name of the state"
          />
          <ElButton size="small" native-type="submit" :disabled="name.trim() === ''"
            >Keep as it is now</ElButton
          >
        </form>
      </section>
    </div>
  </ElDialog>
</template>

<style scoped>
.halves {
  display: grid;
  grid-template-columns: 1.2fr 1fr;
  gap: 24px;
}
h3 {
  margin: 0 0 6px;
  font-size: 14px;
  font-weight: 550;
}
ol,
ul {
  max-height: 52vh;
  margin: 0;
  padding: 0;
  overflow-y: auto;
  list-style: none;
}
li {
  display: flex;
}
.row {
  display: flex;
  flex: 1;
  gap: 8px;
  align-items: baseline;
  min-width: 0;
  padding: 4px 6px;
  text-align: left;
}
.row span {
  flex: 1;
}
.row small {
  flex: none;
  color: var(--ink-quiet);
}
.row:hover,
.row[aria-current='true'] {
  background: var(--paper-line);
}
.row[aria-current='true'] {
  box-shadow: inset 3px 0 var(--crow);
}
.row:hover small,
.row[aria-current='true'] small {
  color: var(--ink);
}
.undone {
  color: var(--ink-quiet);
  font-style: italic;
}
.bin {
  padding: 4px;
}
form {
  display: flex;
  gap: 6px;
  margin-top: 8px;
}
</style>
