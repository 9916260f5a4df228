<script setup lang="ts">
import type { DiskState } from '@zesty-crow/server/contract';
import { onScopeDispose, ref } from 'vue';
import { listen } from '../server/events.ts';

/** Says that the disk fills up, before it is full. */
const state = ref<DiskState>();
onScopeDispose(listen({ disk: (next) => (state.value = next) }));
</script>

<template>
  <p v-if="state?.low" class="disk" role="status">
    The disk has only {{ Math.round(state.free / 1e6).toLocaleString('en') }} MB left. Make room before you
    bring in or render more; what is saved is safe.
  </p>
</template>

<style scoped>
.disk {
  position: fixed;
  right: 12px;
  bottom: 12px;
  z-index: 20;
  max-width: 380px;
  margin: 0;
  padding: 8px 12px;
  background: var(--paper);
  border-left: 4px solid var(--alarm);
  box-shadow: 0 3px 14px rgb(0 0 0 / 35%);
}
</style>
