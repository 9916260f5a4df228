<script setup lang="ts">
import { ElConfigProvider } from 'element-plus';
import DiskNote from './DiskNote.vue';
import StageRail from './StageRail.vue';
import JobTray from './JobTray.vue';
</script>

<template>
  <ElConfigProvider :message="{ max: 4 }">
    <div class="house">
      <StageRail />
      <main class="stage"><RouterView /></main>
      <JobTray />
      <DiskNote />
    </div>
  </ElConfigProvider>
</template>

<style scoped>
.house {
  display: flex;
  height: 100%;
}
.stage {
  flex: 1;
  min-width: 0;
  height: 100%;
}
</style>
