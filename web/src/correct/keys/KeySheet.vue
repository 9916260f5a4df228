<script setup lang="ts">
import { ElDialog, ElInput } from 'element-plus';
import { Search } from '@lucide/vue';
import { computed, ref } from 'vue';
import { foundKeys, KEY_GROUPS, type KeyUse } from './keys.ts';

/** All keys with what they do, to be searched. */
const props = defineProps<{ keys: readonly KeyUse[] }>();
defineEmits<{ close: [] }>();

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
                <kbd>{{ k.key }}</kbd>
              </dt>
              <dd>{{ k.label }}</dd>
            </template>
          </dl>
        </section>
      </div>
      <p v-if="groups.length === 0">No key does that.</p>
    </div>
  </ElDialog>
</template>

<style scoped>
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
