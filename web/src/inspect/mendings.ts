import type { Mending } from '@zesty-crow/core/findings';
import { effectScope, watch } from 'vue';
import { api } from '../server/api.ts';
import { notify, notifyError, tellUndo } from '../server/notify.ts';
import { useJobs } from '../server/jobs.ts';

/**
 * Has new files of a version written in which a fault is put right. When they are there it is told, wherever the artist
 * is by then, with the way back: the old files were kept.
 */
export async function mendVersion(version: string, mending: Mending): Promise<void> {
  const jobs = useJobs();
  const job = await api.mend(version, mending);
  jobs.put(job);
  // It goes on when the screen that began it is gone.
  const scope = effectScope(true);
  scope.run(() =>
    watch(
      () => jobs.jobs.find((j) => j.id === job.id),
      (now) => {
        if (now?.state === 'waiting' || now?.state === 'running') return;
        scope.stop();
        if (now?.state === 'failed') notify(`${now.message} Nothing was changed.`);
        const { retired = [], added = [] } = now?.result ?? {};
        if (now?.state === 'done') tellUndo(now.message, () => api.swapFiles(version, added, retired));
      },
    ),
  );
}

export const beginMending = (version: string, mending: Mending): void =>
  void mendVersion(version, mending).catch(notifyError);
