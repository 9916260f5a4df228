import { defineStore } from 'pinia';
import { computed, ref } from 'vue';
import type { Job } from '@zesty-crow/server/contract';
import { api } from './api.ts';
import { listen } from './events.ts';
import { notifyError } from './notify.ts';

/** Jobs of the server, kept up to date by its events. */
export const useJobs = defineStore('jobs', () => {
  const jobs = ref<Job[]>([]);
  const underWay = computed(() => jobs.value.filter((j) => j.state === 'waiting' || j.state === 'running'));

  function put(job: Job): void {
    const at = jobs.value.findIndex((j) => j.id === job.id);
    if (at < 0) jobs.value.unshift(job);
    else jobs.value[at] = job;
  }
  async function load(): Promise<void> {
    jobs.value = await api.jobs();
  }
  const drop = (id: string) => (jobs.value = jobs.value.filter((j) => j.id !== id));
  listen({ job: put, jobGone: drop, connected: () => void load().catch(notifyError) });

  async function cancel(id: string): Promise<void> {
    await api.cancelJob(id).catch(notifyError);
  }
  return { jobs, underWay, put, cancel };
});
