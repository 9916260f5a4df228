import { ref } from 'vue';

/** Set by the stage that is open: what the rail's last stage does there. */
export const openExport = ref<(() => void) | undefined>();
