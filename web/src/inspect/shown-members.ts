import { defineStore } from 'pinia';
import { ref, shallowRef } from 'vue';

/** Members of the cast that are looked at: the picture shows where they are. */
export const useShownMembers = defineStore('shown-members', () => {
  const layer = ref<string>();
  const ids = shallowRef<readonly number[]>([]);
  function show(of: string | undefined, members: readonly number[]): void {
    layer.value = of;
    ids.value = members;
  }
  return { layer, ids, show };
});
