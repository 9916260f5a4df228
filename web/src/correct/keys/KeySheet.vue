<script setup lang="ts">
import { ElButton, ElDialog, ElInput, ElSwitch } from 'element-plus';
import { Search } from '@lucide/vue';
import { computed, ref } from 'vue';
import { isCharacter, useKeyChoices } from './key-choices.ts';
import { foundKeys, KEY_GROUPS, type KeyUse } from './keys.ts';

/** All keys with what they do, to be searched; single characters can be changed, or all of them switched off. */
const props = defineProps<{ keys: readonly KeyUse[] }>();
defineEmits<{ close: [] }>();

const choices = useKeyChoices();
/** What waits for another key. */
const changing = ref<string>();
function take(e: KeyboardEvent, usual: string): void {
  if (changing.value !== usual || e.ctrlKey || e.metaKey || e.altKey || e.key === 'Tab') return;
  e.preventDefault();
  e.stopPropagation();
  if (e.key !== 'Escape' && (!isCharacter(e.key) || e.key === ' ')) return;
  if (e.key !== 'Escape') choices.choose(usual, e.key);
  changing.value = undefined;
}
const search = ref('');
const found = computed(() => foundKeys(props.keys, search.value));
const groups = computed(() =>
  KEY_GROUPS.map((group) => ({ group, keys: found.value.filter((k) => k.group === group) })).filter(
    (g) => g.keys.length > 0,
  ),
);
</script>

<template>
  <ElDialog model-value title="Keys" width="min(980px, 94vw)" top="8vh" @closed="$emit('close')">
    <ElInput
      v-model="search"
      autofocus
      clearable
      :prefix-icon="Search"
      placeholder="Find a key by what it does"
      aria-label="Find a key"
    />
    <div class="scroll">
      <div class="groups">
        <section v-for="g in groups" :key="g.group">
          <h4>{{ g.group }}</h4>
          <dl>
            <template v-for="k in g.keys" :key="k.key">
              <dt>
                <button
                  v-if="k.act && isCharacter(k.key)"
                  class="plain-button"
                  type="button"
                  :title="`Change the key: ${k.label}`"
                  :aria-label="`Change the key ${choices.keyOf(k.key)}: ${k.label}`"
                  @click="changing = k.key"
                  @keydown="take($event, k.key)"
                  @blur="changing = undefined"
                >
                  <kbd :class="{ waits: changing === k.key, off: choices.stored.value.off }">{{
                    changing === k.key ? 'press…' : choices.stored.value.own[k.key] || k.key
                  }}</kbd>
                </button>
                <kbd v-else>{{ k.key }}</kbd>
              </dt>
              <dd>{{ k.label }}</dd>
            </template>
          </dl>
        </section>
      </div>
      <p v-if="groups.length === 0">No key does that.</p>
    </div>
    <template #footer>
      <div class="below">
        <label>
          <ElSwitch
            size="small"
            :model-value="!choices.stored.value.off"
            aria-label="Single keys"
            @update:model-value="choices.setOff($event !== true)"
          />
          Single keys work (never while one types). Click a key to change it.
        </label>
        <ElButton size="small" @click="choices.reset()">Back to the usual keys</ElButton>
      </div>
    </template>
  </ElDialog>
</template>

<style scoped>
.below,
.below label {
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 8px;
}
.waits {
  background: var(--lemon-soft);
}
.off {
  opacity: 0.6;
  text-decoration: line-through;
}
.scroll {
  max-height: 64vh;
  margin-top: 14px;
}
.groups {
  columns: 3 250px;
  column-gap: 28px;
}
section {
  break-inside: avoid;
  margin-bottom: 14px;
}
h4 {
  margin: 0 0 4px;
  font-size: 14px;
  font-weight: 600;
}
dl {
  display: grid;
  grid-template-columns: max-content 1fr;
  gap: 4px 12px;
  margin: 0;
}
dt {
  min-width: 34px;
}
dd {
  margin: 0;
}
kbd {
  display: inline-block;
  min-width: 22px;
  padding: 0 6px;
  border: 1px solid var(--paper-line);
  font: inherit;
  text-align: center;
}
</style>
