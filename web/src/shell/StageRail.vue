<script setup lang="ts">
import { ElTooltip } from 'element-plus';
import { LayoutGrid } from '@lucide/vue';
import { computed } from 'vue';
import { useRoute } from 'vue-router';
import { STAGES } from './stages.ts';

const route = useRoute();
const shot = computed(() => (typeof route.params['id'] === 'string' ? route.params['id'] : undefined));

const stages = computed(() =>
  STAGES.map(({ name, label, hint }) => {
    const current = route.name === name;
    return {
      label,
      current,
      to: shot.value && !current ? { name, params: { id: shot.value } } : undefined,
      text: current ? 'You are here' : shot.value ? hint : 'Open a shot first',
    };
  }),
);
</script>

<template>
  <nav class="rail" aria-label="Stages">
    <RouterLink to="/" class="home" aria-label="Zesty Crow, all shots"
      ><img src="/crow.svg" alt="" width="40" height="40"
    /></RouterLink>
    <RouterLink to="/" class="stop" :class="{ current: route.name === 'shots' }">
      <LayoutGrid :size="18" :stroke-width="1.6" />
      <span>Shots</span>
    </RouterLink>
    <ol>
      <li v-for="(stage, i) in stages" :key="stage.label">
        <ElTooltip :content="stage.text" placement="right" :show-after="200">
          <RouterLink v-if="stage.to" class="stop" :to="stage.to">
            <b>{{ i + 1 }}</b><span>{{ stage.label }}</span>
          </RouterLink>
          <span
            v-else
            class="stop"
            :class="stage.current ? 'current' : 'closed'"
            :aria-disabled="!stage.current"
            :aria-current="stage.current ? 'step' : undefined"
          >
            <b>{{ i + 1 }}</b><span>{{ stage.label }}</span>
          </span>
        </ElTooltip>
      </li>
    </ol>
  </nav>
</template>

<style scoped>
.rail {
  width: 68px;
  flex: none;
  display: flex;
  flex-direction: column;
  align-items: stretch;
  background: var(--crow);
  color: #e8e6df;
  padding-top: 12px;
}
.home {
  align-self: center;
  margin-bottom: 14px;
}
ol {
  list-style: none;
  margin: 10px 0 0;
  padding: 10px 0 0;
  border-top: 1px solid #3a3a3a;
}
.stop {
  display: flex;
  flex-direction: column;
  align-items: center;
  gap: 1px;
  width: 100%;
  padding: 9px 0 8px;
  font-size: 12px;
  color: #e8e6df;
  text-decoration: none;
  border-left: 3px solid transparent;
  border-right: 3px solid transparent;
}
.stop b {
  font-size: 17px;
  font-weight: 500;
}
.stop:not(.closed):hover {
  background: var(--crow-soft);
}
.current {
  border-left-color: var(--lemon);
  background: var(--crow-soft);
}
.closed {
  color: #8d8b85;
  cursor: default;
}
</style>
