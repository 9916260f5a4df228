<script setup lang="ts">
import { ElButton, ElCheckbox, ElInput, ElInputNumber, ElOption, ElSelect } from 'element-plus';
import { Plus, X } from '@lucide/vue';
import { matchMembers } from '@zesty-crow/core';
import type { NumberRule } from '@zesty-crow/core/roster';
import { usePlan } from '../shot/plan.ts';

const plan = usePlan();
const matches = (rule: NumberRule) =>
  matchMembers(
    rule.pattern,
    (rule.what === 'objects' ? plan.roster.objects : plan.roster.materials).map((e) => ({
      name: e.name,
      id: 0,
    })),
  ).length;
function add(): void {
  const most = Math.max(0, ...plan.roster.objects.map((o) => o.number));
  plan.plan.rules.push({ what: 'objects', pattern: '*', number: most + 1, countUp: false });
  void plan.commit('New number rule');
}
function remove(at: number): void {
  const [gone] = plan.plan.rules.splice(at, 1);
  void plan.commit(`Remove rule ${gone!.pattern}`);
}
const changed = (rule: NumberRule) => void plan.commit(`Change rule ${rule.pattern}`);
</script>

<template>
  <div class="rules">
    <p class="paper-hint">
      A rule numbers everything whose name it matches and that has no number of its own. <code>*</code> stands
      for any letters.
    </p>
    <div v-for="(rule, i) in plan.plan.rules" :key="i" class="rule">
      <ElSelect v-model="rule.what" size="small" aria-label="What the rule numbers" @change="changed(rule)">
        <ElOption value="objects" label="objects" />
        <ElOption value="materials" label="materials" />
      </ElSelect>
      <ElInput v-model="rule.pattern" size="small" aria-label="Pattern" @change="changed(rule)" />
      <ElInputNumber
        v-model="rule.number"
        :min="1"
        :max="65535"
        :controls="false"
        size="small"
        aria-label="Number"
        @change="changed(rule)"
      />
      <ElCheckbox v-model="rule.countUp" label="count up" @change="changed(rule)" />
      <span class="paper-hint">{{ matches(rule) }} match</span>
      <button class="plain-button" type="button" aria-label="Remove rule" @click="remove(i)">
        <X :size="14" :stroke-width="1.6" />
      </button>
    </div>
    <ElButton size="small" :icon="Plus" @click="add">New rule</ElButton>
  </div>
</template>

<style scoped>
.rules {
  padding: 8px 12px;
  background: var(--paper-shade);
  border-bottom: 1px solid var(--paper-line);
}
.rule {
  display: grid;
  grid-template-columns: 96px minmax(0, 1fr) 64px 88px 62px 18px;
  gap: 8px;
  align-items: center;
  margin-bottom: 5px;
}
.rule .paper-hint {
  margin: 0;
}
.rule :deep(.el-input-number) {
  width: 64px;
}
</style>
