import { useLocalStorage } from '@vueuse/core';

/** Whether scopes are shown under the picture, remembered by the browser. */
export function useScopes() {
  const open = useLocalStorage('scopes-open', false);
  return { open, flip: () => (open.value = !open.value) };
}
