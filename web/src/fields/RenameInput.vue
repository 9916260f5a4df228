<script setup lang="ts">
import { ElInput } from 'element-plus';
import { onMounted, ref } from 'vue';

/** A name in its row while it is changed: Enter, or leaving it, keeps what is typed, Esc does not. */
const props = withDefaults(defineProps<{ name: string; label: string; most?: number }>(), { most: 200 });
const emit = defineEmits<{
  /** It is over: with the new name, or without one where the old one stays. */
  end: [name: string | undefined];
}>();
const typed = ref(props.name);
const input = ref<InstanceType<typeof ElInput>>();
onMounted(() => input.value?.select());

let over = false;
function end(keep: boolean): void {
  // Being taken away it loses the focus, too.
  if (over) return;
  over = true;
  const name = typed.value.trim();
  emit('end', keep && name !== props.name ? name : undefined);
}
</script>

<template>
  <ElInput
    ref="input"
    v-model="typed"
    size="small"
    :maxlength="most"
    :aria-label="label"
    @keydown.enter="end(true)"
    @keydown.esc.stop="end(false)"
    @blur="end(true)"
    @click.stop
    @dblclick.stop
  />
</template>
