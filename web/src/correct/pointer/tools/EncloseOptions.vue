<script setup lang="ts">
import SegmentChoice from '../../../fields/SegmentChoice.vue';
import { useView } from '../../../shot/view.ts';

/** What of the members a line around them takes. */
const view = useView();
const ENCLOSED = [
  { value: 'inside', label: 'Whole', title: 'What lies whole within the line' },
  { value: 'touched', label: 'Touched', title: 'All that the line touches' },
] as const;
</script>

<template>
  <SegmentChoice v-model="view.enclosed" label="What is taken" :options="ENCLOSED" />
</template>
