<script setup lang="ts">
import { ElSplitter, ElSplitterPanel } from 'element-plus';
import SideColumn from './SideColumn.vue';
import type { Columns } from './use-columns.ts';

/** What a stage is about, with columns beside it that resize and fold; those that are folded leave a strip. */
const props = defineProps<{ columns: Columns }>();
const { left, right } = props.columns;
</script>

<template>
  <div class="stage-columns">
    <SideColumn v-if="left && !left.open.value" side="left" :column="left" @flip="columns.flipLeft()" />
    <ElSplitter>
      <ElSplitterPanel
        v-if="left?.open.value"
        key="left"
        v-model:size="left.size.value"
        :min="left.narrowest"
        max="33%"
      >
        <SideColumn side="left" :column="left" @flip="columns.flipLeft()"><slot name="left" /></SideColumn>
      </ElSplitterPanel>
      <ElSplitterPanel key="centre"><slot /></ElSplitterPanel>
      <ElSplitterPanel
        v-if="right?.open.value"
        key="right"
        v-model:size="right.size.value"
        :min="right.narrowest"
        max="45%"
      >
        <SideColumn side="right" :column="right" @flip="columns.flipRight()"
          ><slot name="right"
        /></SideColumn>
      </ElSplitterPanel>
    </ElSplitter>
    <SideColumn v-if="right && !right.open.value" side="right" :column="right" @flip="columns.flipRight()" />
  </div>
</template>

<style scoped>
.stage-columns {
  display: flex;
  height: 100%;
  min-height: 0;
}
.stage-columns > .el-splitter {
  flex: 1;
  min-width: 0;
}
.stage-columns :deep(.el-splitter-panel) {
  overflow: hidden;
}
/* No bright lines beside the picture. */
.stage-columns :deep(.el-splitter-bar__dragger::before),
.stage-columns :deep(.el-splitter-bar__dragger::after) {
  background-color: var(--room-line);
}
.stage-columns :deep(.el-splitter-bar__dragger:hover::before) {
  background-color: var(--on-room-quiet);
}
</style>
