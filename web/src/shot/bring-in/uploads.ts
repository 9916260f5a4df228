import { useEventListener } from '@vueuse/core';
import { defineStore } from 'pinia';
import { computed, ref } from 'vue';

/** One file on its way to the server. */
export interface FileUpload {
  name: string;
  size: number;
  /** Bytes. */
  sent: number;
  state: 'waiting' | 'sending' | 'sent' | 'left out';
  abort: AbortController;
}

/** Files under way that become one version, or a scene. */
export interface Upload {
  name: string;
  files: FileUpload[];
  abort: AbortController;
}

export const newFileUpload = (name: string, size: number): FileUpload => ({
  name,
  size,
  sent: 0,
  state: 'waiting',
  abort: new AbortController(),
});

/** Share of an upload that is there, 0 to 1. */
export function shareOf({ files }: Upload): number {
  const wanted = files.filter((f) => f.state !== 'left out');
  const total = wanted.reduce((sum, f) => sum + f.size, 0);
  return total === 0 ? 0 : wanted.reduce((sum, f) => sum + Math.min(f.sent, f.size), 0) / total;
}

/** What is being sent; it goes on whatever stage is open. */
export const useUploads = defineStore('uploads', () => {
  const uploads = ref<Upload[]>([]);

  /** Shows an upload for as long as its work takes. Resolves with undefined if the artist has cancelled it. */
  async function run<T>(name: string, work: (upload: Upload) => Promise<T>): Promise<T | undefined> {
    const upload = ref<Upload>({ name, files: [], abort: new AbortController() }).value;
    uploads.value.push(upload);
    try {
      return await work(upload);
    } catch (error) {
      if (upload.abort.signal.aborted) return undefined;
      throw error;
    } finally {
      uploads.value = uploads.value.filter((u) => u !== upload);
    }
  }
  // Who closes the window now loses what has not arrived.
  useEventListener(window, 'beforeunload', (e) => {
    if (uploads.value.length) e.preventDefault();
  });
  return { uploads, busy: computed(() => uploads.value.length > 0), run };
});
